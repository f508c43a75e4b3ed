<script lang="ts">
  import { Button } from 'carbon-components-svelte';
  import { onDestroy, onMount, tick } from 'svelte';
  import QueryList from '../queries/QueryList.svelte';
  import type { EquationEntry } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import OutcomePages from '../outcome/OutcomePages.svelte';
  import Sheet from '../sheet/Sheet.svelte';
  import TopBar from '../shared/TopBar.svelte';
  import { Proof } from '../state/proof.svelte';
  import { deliverAddress, trayAddress } from '../state/route.svelte';
  import { typefaces } from '../state/typefaces.svelte';
  import EquationList from './EquationList.svelte';
  import FindPanel from './FindPanel.svelte';
  import Keys from './Keys.svelte';
  import Ladder from './Ladder.svelte';
  import MarkedTools from './MarkedTools.svelte';
  import Outline from './Outline.svelte';
  import PagePanel from './PagePanel.svelte';
  import { openEquation } from './rowActions';
  import Rows from './Rows.svelte';
  import SidePanel, { type Panel } from './SidePanel.svelte';
  import StatusBar from './StatusBar.svelte';
  import StylesPanel from './StylesPanel.svelte';
  import SweepPanel from './SweepPanel.svelte';

  let { id }: { id: string } = $props();

  type View = 'rows' | 'sheet' | 'outcome';
  const NAMES: Record<View, string> = { rows: 'Rows', sheet: 'Sheet', outcome: 'Outcome' };

  // svelte-ignore state_referenced_locally: the desk is made anew for another document
  const proof = new Proof(id);
  onDestroy(() => proof.close());

  let rows = $state<Rows>();
  let page = $state(1);
  let keysShown = $state(false);
  let pageShown = $state(false);
  let listShown = $state(false);
  let panel = $state<Panel | null>(null);
  let toFind = $state('');
  let view = $state<View>('rows');

  $effect(() => {
    // What this document was made of is in the in-tray.
    if (proof.parted) location.hash = trayAddress;
  });

  $effect(() => {
    if (!proof.editing) proof.catchUp();
  });

  $effect(() => {
    // A query is answered among the rows.
    if (proof.queries.current) view = 'rows';
  });

  async function show(wanted: View) {
    if (wanted === view) return;
    proof.queries.current = null;
    proof.editing = null;
    view = wanted;
    if (wanted !== 'rows') return;
    const at = page;
    await tick();
    await rows?.goToPage(at);
  }

  /** Goes to a row from the outline, or from the outcome. */
  async function goTo(place: number, block: string) {
    await show('rows');
    proof.unmark();
    proof.editing = null;
    await rows?.goToRow(place);
    proof.selected = block;
  }

  /** Goes to an equation from the list of them, and opens it. */
  async function goToEquation(entry: EquationEntry) {
    await goTo(entry.place, entry.row);
    openEquation(proof, entry.text, entry.at);
  }

  /** Opens the panel to find in; what is marked is looked for. */
  async function find() {
    const marked = document.getSelection()?.toString().trim() ?? '';
    if (panel === 'Find') panel = null;
    if (marked && marked.length < 100 && !marked.includes('\n')) toFind = marked;
    proof.editing = null;
    await tick();
    panel = 'Find';
  }

  const toggle = (wanted: Panel) => (panel = panel === wanted ? null : wanted);

  /** The first query from the row in hand on. */
  async function takeQuery() {
    if (proof.readOnly) return;
    if (!proof.queries.counts) await proof.queries.load();
    const place = proof.place(proof.selected);
    if (!proof.queries.from(Math.max(place, 0))) notices.say('There are no queries.');
  }

  const document_ = $derived(proof.opened?.document);
  const facts = $derived(
    document_ ? [document_.sized_up, document_.page_count === 1 ? '1 page' : `page ${page} of ${document_.page_count}`] : [],
  );

  const isOpen = $derived(!!proof.opened);

  // The typefaces of its rows, known before anybody opens the styles.
  $effect(() => {
    if (isOpen) void typefaces.load(id);
  });

  onMount(() => {
    const pressed = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'f' && proof.opened && !document.querySelector('.bx--modal.is-visible')) {
        event.preventDefault();
        void find();
        return;
      }
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [contenteditable="true"]');
      // What is typed for a row that is still being made is text, not keys.
      if (typing || proof.keysAhead !== null || event.defaultPrevented) return;
      const modified = event.ctrlKey || event.metaKey;
      if (event.key === '?') keysShown = true;
      else if (event.key.toLowerCase() === 'v' && !modified) proof.view = proof.view === 'came' ? 'cleaned' : 'came';
      else if (event.key.toLowerCase() === 'g' && !modified) pageShown = true;
      else if (event.key === 'E' && !modified && !proof.readOnly) void show(view === 'outcome' ? 'rows' : 'outcome');
      else if (event.key.toLowerCase() === 'e' && !modified) void show(view === 'rows' ? 'sheet' : 'rows');
      else if (event.key.toLowerCase() === 'q' && !modified) void takeQuery();
      else if (event.key.toLowerCase() === 'i' && !modified) listShown = true;
      else if (event.key.toLowerCase() === 'u' && !modified) toggle(event.shiftKey ? 'Equations' : 'Outline');
      else if (event.key.toLowerCase() === 's' && !modified && view === 'rows' && proof.opened) toggle('Styles');
      else if (modified && event.key.toLowerCase() === 'z') void (event.shiftKey ? proof.redo() : proof.undo());
      else if (modified && event.key.toLowerCase() === 'y') void proof.redo();
      else return;
      event.preventDefault();
    };
    addEventListener('keydown', pressed);
    return () => removeEventListener('keydown', pressed);
  });
</script>

<svelte:head><title>{document_?.name ?? 'Desk'} · Even Quill</title></svelte:head>

<div class="desk" class:with-panel={panel && proof.opened}>
  <TopBar>
    {#snippet children()}
      <h1 title={document_?.name}>{document_?.name ?? ''}</h1>
      <span class="quiet facts" title={facts.filter(Boolean).join(' · ')}>{facts.filter(Boolean).join(' · ')}</span>
    {/snippet}
    {#snippet actions()}
      <div class="views" role="group" aria-label="View">
        <button aria-pressed={view === 'rows'} onclick={() => show('rows')}>Rows</button>
        <button aria-pressed={view === 'sheet'} onclick={() => show('sheet')}>Sheet</button>
        <button aria-pressed={view === 'outcome'} disabled={!proof.opened || proof.readOnly} onclick={() => show('outcome')}>Outcome</button>
      </div>
      <Button size="field" kind="ghost" disabled={!proof.canUndo || proof.readOnly} on:click={proof.undo}>Undo</Button>
      <Button size="field" kind="ghost" disabled={!proof.canRedo || proof.readOnly} on:click={proof.redo}>Redo</Button>
      <Button size="field" kind="tertiary" disabled={proof.readOnly} on:click={takeQuery}>Queries</Button>
      <Button size="field" kind="ghost" disabled={!proof.opened || proof.readOnly} on:click={() => toggle('Outline')}>Outline</Button>
      <Button size="field" kind="ghost" disabled={!proof.opened || proof.readOnly} on:click={() => toggle('Styles')}>Styles</Button>
      <Button size="field" kind="ghost" disabled={!proof.opened} on:click={find}>Find</Button>
      <Button size="field" kind="ghost" on:click={() => (pageShown = true)}>Page</Button>
      <Button size="field" kind="ghost" class="for-keyboards" on:click={() => (keysShown = true)}>Keys</Button>
      <Button size="field" href={deliverAddress(id)}>Deliver</Button>
    {/snippet}
  </TopBar>
  {#if proof.opened}
    <Ladder {proof} {page} go={(number) => (view === 'rows' ? rows?.goToPage(number) : (page = number))} />
    {#if panel}
      <SidePanel bind:panel>
        {#if panel === 'Outline'}<Outline {proof} go={goTo} close={() => (panel = null)} />
        {:else if panel === 'Find'}<FindPanel {proof} first={toFind} go={goTo} close={() => (panel = null)} />
        {:else if panel === 'Sweep'}<SweepPanel {proof} go={goTo} close={() => (panel = null)} />
        {:else if panel === 'Styles'}<StylesPanel {proof} go={goTo} close={() => (panel = null)} />
        {:else}<EquationList {proof} open={goToEquation} close={() => (panel = null)} />{/if}
      </SidePanel>
    {/if}
    <main aria-label={NAMES[view]}>
      {#if proof.readOnly}
        <p class="reading" role="status">
          Read so far: {document_?.pages_read} of {document_?.page_count} pages. You can look at them; corrections can be made as soon as
          all pages are read.
        </p>
      {/if}
      {#if view === 'sheet'}
        <Sheet {proof} bind:page />
      {:else if view === 'outcome'}
        <OutcomePages {proof} bind:page go={goTo} />
      {:else}
        <Rows bind:this={rows} {proof} bind:page />
        {#if proof.marked.size}<MarkedTools {proof} />{/if}
      {/if}
    </main>
    <StatusBar {proof} list={() => (listShown = true)} />
  {:else if proof.problem}
    <main class="problem">
      <p>{proof.problem}</p>
      <a href={trayAddress}>To the in-tray</a>
    </main>
  {/if}
</div>
<Keys bind:open={keysShown} />
{#if listShown}<QueryList {proof} close={() => (listShown = false)} />{/if}
<PagePanel {proof} {page} bind:open={pageShown} />

<style>
  .desk {
    display: grid;
    grid-template: 'top top' auto 'ladder rows' minmax(0, 1fr) 'status status' auto / 64px minmax(0, 1fr);
    height: 100vh;
    height: 100dvh;
  }
  .desk.with-panel {
    grid-template: 'top top top' auto 'ladder panel rows' minmax(0, 1fr) 'status status status' auto / 64px 316px minmax(0, 1fr);
  }
  .desk > :global(header) {
    grid-area: top;
  }
  main {
    grid-area: rows;
    display: flex;
    flex-direction: column;
    min-height: 0;
  }
  .views {
    display: flex;
    gap: 4px;
    margin-right: 8px;
  }
  .views button {
    padding: 8px 10px 5px;
    border: 0;
    border-bottom: 3px solid transparent;
    background: none;
    color: var(--ink-soft);
    font: inherit;
    cursor: pointer;
  }
  .views [aria-pressed='true'] {
    border-bottom-color: var(--verdigris);
    color: var(--verdigris);
    font-weight: 650;
  }
  h1 {
    flex: 0 1 auto;
    min-width: 5em;
  }
  .facts {
    flex: 0 1 auto;
    overflow: hidden;
    min-width: 0;
    font-size: 14px;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .reading {
    margin: 0;
    padding: 8px 18px;
    border-bottom: 1px solid var(--paper-edge);
    background: var(--saffron-wash);
  }
  .problem {
    padding: 48px 24px;
    font-family: var(--serif);
    font-size: 18px;
  }
  @media (max-width: 680px) {
    .desk {
      grid-template: 'top' auto 'rows' minmax(0, 1fr) 'status' auto / minmax(0, 1fr);
    }
    .desk.with-panel {
      grid-template: 'top' auto 'panel' minmax(0, 45%) 'rows' minmax(0, 1fr) 'status' auto / minmax(0, 1fr);
    }
    .desk > :global(nav),
    .desk :global(.for-keyboards) {
      display: none;
    }
  }
</style>
