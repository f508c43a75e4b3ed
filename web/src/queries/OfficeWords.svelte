<script lang="ts">
  /** The office's own word list: words that are right, and words that always stand for another. */
  import { Button, Modal } from 'carbon-components-svelte';
  import { api, type OfficeList } from '../api/client';
  import { notices } from '../state/notices.svelte';

  let { close }: { close: () => void } = $props();

  let list = $state.raw<OfficeList>({ entries: [], problems: [] });
  let word = $state('');
  let instead = $state('');

  async function take(answer: Promise<OfficeList>) {
    try {
      list = await answer;
    } catch (error) {
      notices.wrong(error);
    }
  }
  void take(api.words());

  async function add() {
    await take(api.addWord(word, instead));
    if (!list.problems?.length) word = instead = '';
  }
</script>

<Modal open passiveModal hasScrollingContent modalHeading="The office’s word list" selectorPrimaryFocus="#office-word" on:close={close}>
  <p class="quiet">Words that are right in every document, and words that always stand for another. It is used when a document is read.</p>
  <form
    onsubmit={(event) => {
      event.preventDefault();
      void add();
    }}
  >
    <input id="office-word" bind:value={word} placeholder="word" aria-label="Word" autocomplete="off" spellcheck="false" />
    <span>stands for</span>
    <input bind:value={instead} placeholder="itself" aria-label="What it always stands for" autocomplete="off" spellcheck="false" />
    <Button size="small" type="submit" disabled={!word.trim()}>Add</Button>
    <label class="file"
      >Import
      <input
        type="file"
        accept=".txt,text/plain"
        onchange={(event) => {
          const file = event.currentTarget.files?.[0];
          if (file) void take(api.importWords(file));
          event.currentTarget.value = '';
        }}
      /></label
    >
    <a href="/api/words/export" download="words.txt">Export</a>
  </form>
  {#each list.problems ?? [] as problem (problem)}<p class="problem">{problem}</p>{/each}
  <ul>
    {#each list.entries as entry (entry.word)}
      <li>
        <span class="serif">{entry.word}{entry.instead ? ` → ${entry.instead}` : ''}</span>
        <button onclick={() => take(api.removeWords([entry.word]))} aria-label="Take “{entry.word}” off the list">take off</button>
      </li>
    {:else}
      <li class="quiet">The list is empty.</li>
    {/each}
  </ul>
</Modal>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 12px;
    align-items: center;
    margin: 12px 0;
  }
  input:not([type='file']) {
    width: 150px;
    padding: 5px 8px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    font-family: var(--serif);
    font-size: 16px;
  }
  .file {
    position: relative;
    color: var(--verdigris);
    text-decoration: underline;
    cursor: pointer;
  }
  .file input {
    position: absolute;
    inset: 0;
    width: 100%;
    opacity: 0;
  }
  .file:focus-within {
    outline: 2px solid var(--verdigris);
  }
  .problem {
    color: var(--alarm);
  }
  ul {
    padding: 0;
    list-style: none;
  }
  li {
    display: flex;
    justify-content: space-between;
    padding: 4px 0;
    border-bottom: 1px solid var(--paper-edge);
  }
  .serif {
    font-family: var(--serif);
    font-size: 16px;
  }
  li button {
    border: 0;
    background: none;
    color: var(--ink-soft);
    font: inherit;
    cursor: pointer;
  }
</style>
