<script lang="ts">
  import { Button, Search, Select, SelectItem } from 'carbon-components-svelte';
  import { onMount } from 'svelte';
  import { tray } from '../state/tray.svelte';
  import TopBar from '../shared/TopBar.svelte';
  import Docket from './Docket.svelte';
  import DuplicateQuestion from './DuplicateQuestion.svelte';

  const ORDERS = { arrived: 'Newest first', name: 'By name', state: 'By state', pages: 'Longest first' } as const;
  const STATES = ['stopped', 'reading', 'waiting', 'to correct', 'ready', 'delivered'];

  let order = $state<keyof typeof ORDERS>('arrived');
  let sought = $state('');
  let over = $state(false);
  let picker: HTMLInputElement;

  onMount(() => tray.watch());

  const shown = $derived.by(() => {
    const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
    const found = tray.documents.filter((one) => {
      const text = `${one.name} ${one.state} ${one.kind} ${one.problem}`.toLowerCase();
      return words.every((word) => text.includes(word));
    });
    if (order === 'name') found.sort((a, b) => a.name.localeCompare(b.name));
    if (order === 'state') found.sort((a, b) => STATES.indexOf(a.state) - STATES.indexOf(b.state));
    if (order === 'pages') found.sort((a, b) => b.page_count - a.page_count);
    return found;
  });

  function dropped(event: DragEvent) {
    event.preventDefault();
    over = false;
    if (event.dataTransfer?.files.length) void tray.takeIn(event.dataTransfer.files);
  }

  function picked() {
    if (picker.files?.length) void tray.takeIn(Array.from(picker.files));
    picker.value = '';
  }
</script>

<svelte:head><title>In-tray · Even Quill</title></svelte:head>

<div
  class="view"
  class:over
  role="presentation"
  ondragover={(event) => {
    event.preventDefault();
    over = true;
  }}
  ondragleave={(event) => {
    if (event.relatedTarget === null) over = false;
  }}
  ondrop={dropped}
>
  <TopBar>
    {#snippet children()}<h1>In-tray</h1>
      <span class="quiet count"
        >{tray.documents.length === 1 ? '1 document' : `${tray.documents.length} documents`}</span
      >{/snippet}
    {#snippet actions()}<Button size="field" on:click={() => picker.click()}>Take files in</Button>{/snippet}
  </TopBar>
  <input
    bind:this={picker}
    class="hidden-but-read"
    type="file"
    accept="application/pdf,.pdf"
    multiple
    aria-label="Files to take in"
    tabindex="-1"
    onchange={picked}
  />

  <main>
    <p class="hint">
      Drop PDFs anywhere on this page, or take them in with the button. Each is read page by page; open it, correct what went
      wrong beside its source, and deliver a word-processor file.
    </p>
    <div class="tools">
      <Search size="sm" placeholder="Find a document" labelText="Find a document" bind:value={sought} />
      <Select size="sm" hideLabel labelText="Order" bind:selected={order}>
        {#each Object.entries(ORDERS) as [value, name] (value)}<SelectItem {value} text={name} />{/each}
      </Select>
    </div>

    {#each tray.arriving as one (one.id)}
      <div class="arriving">
        <span>{one.name}</span>
        <progress value={one.share} aria-label={`Taking in ${one.name}`}></progress>
      </div>
    {/each}

    {#if shown.length}
      <ul aria-label="Documents">
        {#each shown as document (document.id)}<li><Docket {document} /></li>{/each}
      </ul>
    {:else if tray.loaded}
      <p class="empty">
        {sought ? 'No document has these words in its name, kind or state.' : 'Nothing here yet. Drop a PDF to begin.'}
      </p>
    {/if}
  </main>
</div>
<DuplicateQuestion />

<style>
  .view {
    min-height: 100%;
  }
  .view.over {
    outline: 3px dashed var(--verdigris);
    outline-offset: -8px;
    background: var(--verdigris-wash);
  }
  main {
    max-width: 1040px;
    margin: 0 auto;
    padding: 18px;
  }
  .hint {
    max-width: 70ch;
    margin: 0 0 16px;
    color: var(--ink-soft);
    font-family: var(--serif);
    font-size: 16px;
    line-height: 1.45;
  }
  .tools {
    display: grid;
    grid-template-columns: 1fr 180px;
    gap: 10px;
    margin-bottom: 12px;
  }
  ul {
    display: grid;
    gap: 8px;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  .arriving {
    display: flex;
    gap: 12px;
    align-items: center;
    margin-bottom: 8px;
    padding: 12px 16px;
    border: 1px dashed var(--paper-edge);
  }
  progress {
    flex: 1;
    accent-color: var(--verdigris);
  }
  .empty {
    padding: 48px 0;
    color: var(--ink-soft);
    font-family: var(--serif);
    font-size: 19px;
    text-align: center;
  }
  @media (max-width: 680px) {
    .tools {
      grid-template-columns: 1fr;
    }
  }
</style>
