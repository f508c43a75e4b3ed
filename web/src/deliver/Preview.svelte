<script lang="ts">
  /** The first page of a document as it looks in a format: drawn, in a browser, or as the text that it is. */
  import { api, outcomePageAddress, previewAddress, type Format } from '../api/client';

  let { id, format, options, revision }: { id: string; format: Format; options: string[]; revision: number } = $props();

  const SCALE = 1.5;
  /** The text, or the address of the picture, of the first page. */
  let shown = $state('');
  let problem = $state('');
  const address = $derived(previewAddress(id, format.name, options));

  async function fetched(): Promise<string> {
    if (format.seen_as === 'browser') return '';
    if (format.seen_as === 'pages' && options.length) return `${address}&revision=${revision}`;
    if (format.seen_as === 'pages') return outcomePageAddress(id, await api.outcome(id), 1, SCALE);
    const answer = await fetch(address);
    if (answer.ok) return answer.text();
    throw new Error(((await answer.json()) as { sentence: string }).sentence);
  }

  $effect(() => {
    void revision;
    problem = '';
    // An answer that comes when something else is wanted already is not shown.
    let old = false;
    fetched().then(
      (answer) => {
        if (!old) shown = answer;
      },
      (error) => {
        if (!old) problem = error instanceof Error ? error.message : String(error);
      },
    );
    return () => {
      old = true;
    };
  });
</script>

<figure>
  {#if problem}
    <p role="alert">{problem}</p>
  {:else if format.seen_as === 'pages'}
    {#if shown}<img src={shown} alt="The first page as {format.title}" />{/if}
  {:else if format.seen_as === 'browser'}
    <iframe src={address} title="The first page as {format.title}" sandbox=""></iframe>
  {:else}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls, also by keys) -->
    <pre tabindex="0" aria-label="The first page as {format.title}">{shown}</pre>
  {/if}
</figure>

<style>
  figure {
    margin: 4px 0 12px;
  }
  img {
    display: block;
    width: min(100%, 520px);
    border: 1px solid var(--paper-edge);
  }
  iframe,
  pre {
    box-sizing: border-box;
    width: 100%;
    height: 420px;
    margin: 0;
    border: 1px solid var(--paper-edge);
    background: white;
    color: black;
  }
  pre {
    overflow: auto;
    padding: 12px 16px;
    font: 14px/1.45 var(--mono, monospace);
    white-space: pre-wrap;
  }
  p {
    margin: 0;
    color: var(--saffron);
  }
</style>
