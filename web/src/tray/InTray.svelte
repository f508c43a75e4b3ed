<script lang="ts">
  import { Button, Search, Select, SelectItem } from 'carbon-components-svelte';
  import { onMount } from 'svelte';
  import OwnAccount from '../people/OwnAccount.svelte';
  import People from '../people/People.svelte';
  import { session } from '../state/session.svelte';
  import { tray } from '../state/tray.svelte';
  import TopBar from '../shared/TopBar.svelte';
  import Docket from './Docket.svelte';
  import DuplicateQuestion from './DuplicateQuestion.svelte';
  import JoinQuestion from './JoinQuestion.svelte';

  const ORDERS = { arrived: 'Newest first', name: 'By name', state: 'By state', pages: 'Longest first' } as const;
  const STATES = ['failed', 'stopped', 'reading', 'waiting', 'to correct', 'ready', 'delivered'];

  let order = $state<keyof typeof ORDERS>('arrived');
  let sought = $state('');
  let over = $state(false);
  let dialog = $state<'' | 'people' | 'own'>('');
  let choosing = $state(false);
  let chosen = $state<string[]>([]);
  let picker: HTMLInputElement;

  onMount(() => tray.watch());

  const shown = $derived.by(() => {
    const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
    const found = tray.documents.filter((one) => {
      const text = `${one.name} ${one.state} ${one.sized_up} ${one.producer} ${one.problem}`.toLowerCase();
      return words.every((word) => text.includes(word));
    });
    if (order === 'name') found.sort((a, b) => a.name.localeCompare(b.name));
    if (order === 'state') found.sort((a, b) => STATES.indexOf(a.state) - STATES.indexOf(b.state));
    if (order === 'pages') found.sort((a, b) => b.page_count - a.page_count);
    return found;
  });

  function choose() {
    if (choosing) tray.askToJoin(chosen.flatMap((id) => tray.documents.filter((one) => one.id === id)));
    choosing = !choosing;
    chosen = [];
  }

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
    {#snippet actions()}
      {#if session.person}
        {#if session.person.role === 'lead'}<Button size="field" kind="ghost" on:click={() => (dialog = 'people')}>People</Button>{/if}
        <Button size="field" kind="ghost" on:click={() => (dialog = 'own')}>{session.person.name}</Button>
      {/if}
      <Button size="field" on:click={() => picker.click()}>Take files in</Button>
    {/snippet}
  </TopBar>
  <input
    bind:this={picker}
    class="hidden-but-read"
    type="file"
    accept="application/pdf,.pdf,image/*,.tif,.tiff,.heic,.heif,.docx,.odt"
    multiple
    aria-label="Files to take in"
    tabindex="-1"
    onchange={picked}
  />

  <main>
    <p class="hint">
      Drop PDFs, scans, photos or word-processor files anywhere on this page, or take them in with the button. Each is read page by page; open
      it, correct what went wrong beside its source, and deliver a word-processor file.
    </p>
    <div class="tools">
      <Search size="sm" placeholder="Find a document" labelText="Find a document" bind:value={sought} />
      <Select size="sm" hideLabel labelText="Order" bind:selected={order}>
        {#each Object.entries(ORDERS) as [value, name] (value)}<SelectItem {value} text={name} />{/each}
      </Select>
      <Button size="small" kind="tertiary" disabled={tray.documents.length < 2} on:click={choose}
        >{choosing ? (chosen.length > 1 ? `Join these ${chosen.length}` : 'Join none') : 'Join documents'}</Button
      >
    </div>

    {#each tray.arriving as one (one.id)}
      <div class="arriving">
        <span>{one.name}</span>
        <progress value={one.share} aria-label={`Taking in ${one.name}`}></progress>
      </div>
    {/each}

    {#if shown.length}
      <ul aria-label="Documents">
        {#each shown as document (document.id)}
          <li class:choosing>
            {#if choosing}<input type="checkbox" value={document.id} bind:group={chosen} aria-label="Join {document.name}" />{/if}
            <Docket {document} />
          </li>
        {/each}
      </ul>
    {:else if tray.loaded}
      <p class="empty">
        {sought ? 'No document has these words in its name, kind or state.' : 'Nothing here yet. Drop a PDF, a picture or a word-processor file to begin.'}
      </p>
    {/if}
  </main>
</div>
{#if dialog === 'people'}<People close={() => (dialog = '')} />{/if}
{#if dialog === 'own'}<OwnAccount close={() => (dialog = '')} />{/if}
<DuplicateQuestion />
<JoinQuestion />

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
    grid-template-columns: 1fr 180px max-content;
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
  li.choosing {
    display: grid;
    grid-template-columns: 24px 1fr;
    align-items: center;
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
