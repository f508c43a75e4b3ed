<script lang="ts">
  /** The first page of a document as it looks in a format: drawn, in a browser, or as the text that it is. */
  import { api, outcomePageAddress, previewAddress, type Format } from '../api/client';

  let { id, format, options, revision }: { id: string; format: Format; options: string[]; revision: number } = $props();

  const SCALE = 1.5;
  let picture = $state('');
  let text = $state('');
  let problem = $state('');
  const address = $derived(previewAddress(id, format.name, options));

  const said = (error: unknown) => (problem = error instanceof Error ? error.message : String(error));

  $effect(() => {
    void revision;
    problem = '';
    if (format.seen_as === 'pages') api.outcome(id).then((outcome) => (picture = outcomePageAddress(id, outcome, 1, SCALE)), said);
    else if (format.seen_as === 'text')
      fetch(address).then(async (answer) => {
        if (answer.ok) text = await answer.text();
        else said(new Error(((await answer.json()) as { sentence: string }).sentence));
      }, said);
  });
</script>

<figure>
  {#if problem}
    <p role="alert">{problem}</p>
  {:else if format.seen_as === 'pages'}
    {#if picture}<img src={picture} alt="The first page as {format.title}" />{/if}
  {:else if format.seen_as === 'browser'}
    <iframe src={address} title="The first page as {format.title}" sandbox=""></iframe>
  {:else}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls, also by keys) -->
    <pre tabindex="0" aria-label="The first page as {format.title}">{text}</pre>
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
