<script lang="ts">
  /** The whole page of the source with its regions, beside the rows that they became. Pointing at one lights the other. */
  import { tick } from 'svelte';
  import type { Block } from '../api/client';
  import { isTable, isText, kindName, KINDS, kindOf, readable, signOf, type Kind } from '../shared/blocks';
  import { setAside, setKind } from '../desk/rowActions';
  import type { Proof } from '../state/proof.svelte';
  import { SheetPage } from '../state/sheet.svelte';
  import Outlines from './Outlines.svelte';
  import RegionReading from './RegionReading.svelte';

  let { proof, page = $bindable() }: { proof: Proof; page: number } = $props();

  const ZOOMS = [0.5, 0.67, 0.8, 1, 1.25, 1.6, 2, 2.6, 3.3, 4.17]; // pixels a point

  // svelte-ignore state_referenced_locally: the sheet is made anew for another proof
  const sheet = new SheetPage(proof, () => page);
  let tool = $state<'choose' | 'draw' | 'split'>('choose');
  let zoom = $state(0);
  let paneWidth = $state(600);
  let paneHeight = $state(600);
  let pane = $state<HTMLElement>();
  let list = $state<HTMLElement>();

  const fit = $derived(Math.min((paneWidth - 90) / sheet.width, (paneHeight - 30) / sheet.height));
  const factor = $derived(zoom || fit);
  const count = $derived(proof.opened?.document.page_count ?? 1);

  $effect(() => {
    void page;
    void proof.revision;
    void sheet.load();
  });

  const pointed = $derived(sheet.pointed ?? sheet.chosen.at(-1) ?? null);
  $effect(() => {
    if (pointed) list?.querySelector(`[data-row="${CSS.escape(pointed)}"]`)?.scrollIntoView({ block: 'nearest' });
  });

  async function zoomBy(by: -1 | 1) {
    const at = ZOOMS.findIndex((one) => one >= factor - 0.01);
    const next = ZOOMS[Math.min(Math.max((at < 0 ? ZOOMS.length : at) + by, 0), ZOOMS.length - 1)]!;
    if (!pane) return;
    const middle = [(pane.scrollLeft + paneWidth / 2) / factor, (pane.scrollTop + paneHeight / 2) / factor] as const;
    zoom = next;
    await tick();
    pane.scrollTo(middle[0] * next - paneWidth / 2, middle[1] * next - paneHeight / 2);
  }

  function wheeled(event: WheelEvent) {
    if (!event.ctrlKey) return;
    event.preventDefault();
    void zoomBy(event.deltaY < 0 ? 1 : -1);
  }

  let panning: { x: number; y: number; left: number; top: number } | null = null;
  function grabbed(event: PointerEvent) {
    if (tool !== 'choose' || !pane || (event.target as HTMLElement).closest('.region')) return;
    panning = { x: event.clientX, y: event.clientY, left: pane.scrollLeft, top: pane.scrollTop };
    pane.setPointerCapture(event.pointerId);
  }
  function dragged(event: PointerEvent) {
    if (panning) pane?.scrollTo(panning.left + panning.x - event.clientX, panning.top + panning.y - event.clientY);
  }

  function give(kind: Kind) {
    const block = sheet.inHand;
    if (block && isText(block)) setKind(proof, [block], kind);
  }

  const region = $derived(sheet.regions.find((one) => one.block.id === sheet.inHand?.id));

  function readAgain() {
    if (region) void sheet.readPlace(region, region.area, {}, isTable(region.block));
  }

  /** Text to picture, or picture to text: what is read waits for the clerk's word, what is cut is cut. */
  function chooseKind(value: string) {
    if (!region) return;
    if (value === 'picture' || value === 'handwriting' || value === 'equation')
      void sheet.cut(region, region.area, value === 'picture' ? '' : value);
    else if (value === 'table') void sheet.readPlace(region, region.area, {}, true);
    else if (!isText(region.block)) readAgain();
    else give(KINDS.find((kind) => kind.key === value)!);
  }

  function kindChosen(block: Block): string {
    if (isTable(block)) return 'table';
    if (!isText(block)) return block.note === 'handwriting' || block.note === 'equation' ? block.note : 'picture';
    return kindOf(block).key;
  }

  const kindInHand = $derived(sheet.inHand ? kindChosen(sheet.inHand) : '');

  function nudge(dx: number, dy: number) {
    if (!region) return;
    const [x0, y0, x1, y1] = region.area;
    sheet.moved(region, [x0, y0, Math.min(x1 + dx, sheet.width), Math.min(y1 + dy, sheet.height)]);
  }

  function pressed(event: KeyboardEvent) {
    const target = event.target as HTMLElement;
    if (target.closest('input, textarea, select, [contenteditable="true"], [role="dialog"]') || sheet.pending) return;
    if (event.ctrlKey || event.metaKey) return;
    const key = event.key.toLowerCase();
    if (key === '+' || key === '=') void zoomBy(1);
    else if (key === '-') void zoomBy(-1);
    else if (key === 'f') zoom = 0;
    else if (key === 'pagedown' && page < count) page += 1;
    else if (key === 'pageup' && page > 1) page -= 1;
    else if (key === 'escape') tool = 'choose';
    else if (proof.readOnly) return;
    else if (event.altKey && (key === 'arrowdown' || key === 'arrowup')) sheet.move(key === 'arrowdown' ? 1 : -1);
    else if (event.altKey && key === 'arrowright') nudge(event.shiftKey ? -2 : 2, 0);
    else if (event.altKey && key === 'arrowleft') nudge(0, event.shiftKey ? -2 : 2);
    else if (key === 'arrowdown' || key === 'arrowup') sheet.step(key === 'arrowdown' ? 1 : -1, event.shiftKey);
    else if (key === 'd') tool = 'draw';
    else if (key === 's') tool = 'split';
    else if (key === 'm') void sheet.merge();
    else if (key === 'r') readAgain();
    else if (key === 'delete') sheet.remove();
    else if (key === 'x' && sheet.inHand) setAside(proof, [sheet.inHand]);
    else {
      const kind = KINDS.find((one) => one.key === key);
      if (!kind) return;
      give(kind);
    }
    event.preventDefault();
  }
</script>

<svelte:window onkeydown={pressed} />

<div class="sheet">
  <div class="tools" role="toolbar" aria-label="Regions">
    <button disabled={page <= 1} onclick={() => (page -= 1)} aria-label="Page before">‹</button>
    <span>page {page} of {count}</span>
    <button disabled={page >= count} onclick={() => (page += 1)} aria-label="Page after">›</button>
    <span class="gap"></span>
    <button onclick={() => zoomBy(-1)} aria-label="Smaller">−</button>
    <button onclick={() => (zoom = 0)}>Fit <kbd>F</kbd></button>
    <button onclick={() => zoomBy(1)} aria-label="Larger">+</button>
    <span class="gap"></span>
    {#if !proof.readOnly}
      <button aria-pressed={tool === 'draw'} onclick={() => (tool = tool === 'draw' ? 'choose' : 'draw')}>Draw <kbd>D</kbd></button>
      <button aria-pressed={tool === 'split'} onclick={() => (tool = tool === 'split' ? 'choose' : 'split')}>Split <kbd>S</kbd></button>
      <button disabled={!sheet.inHand} onclick={() => sheet.merge()}>Merge <kbd>M</kbd></button>
      <button disabled={!sheet.inHand} onclick={readAgain}>Read again <kbd>R</kbd></button>
      <button disabled={!sheet.inHand} onclick={() => sheet.move(-1)} aria-label="Earlier in the order">Earlier</button>
      <button disabled={!sheet.inHand} onclick={() => sheet.move(1)} aria-label="Later in the order">Later</button>
      <select
        aria-label="Kind of region"
        disabled={!sheet.inHand}
        value={kindInHand}
        onchange={(event) => chooseKind(event.currentTarget.value)}
      >
        <option value="" disabled>Kind</option>
        {#each KINDS as kind (kind.key)}<option value={kind.key}>{kind.name}</option>{/each}
        <option value="picture">Picture</option>
        <option value="table">Table</option>
        <option value="equation">Equation, as a picture</option>
        <option value="handwriting">Handwriting</option>
      </select>
      <button disabled={!sheet.inHand} onclick={() => sheet.inHand && setAside(proof, [sheet.inHand])}
        >{sheet.inHand?.excluded ? 'Bring back' : 'Set aside'} <kbd>X</kbd></button
      >
      <button disabled={!sheet.inHand} onclick={() => sheet.remove()}>Delete</button>
    {/if}
  </div>
  <div
    class="pane"
    class:grabbing={tool === 'choose'}
    bind:this={pane}
    bind:clientWidth={paneWidth}
    bind:clientHeight={paneHeight}
    role="presentation"
    onwheel={wheeled}
    onpointerdown={grabbed}
    onpointermove={dragged}
    onpointerup={() => (panning = null)}
  >
    <div class="ground"><Outlines {sheet} zoom={factor} {tool} done={() => (tool = 'choose')} /></div>
  </div>
  <div class="proof" bind:this={list}>
    {#each sheet.blocks as block, n (block.id)}
      <button
        data-row={block.id}
        class:chosen={sheet.chosen.includes(block.id)}
        class:pointed={sheet.pointed === block.id}
        class:aside={block.excluded}
        aria-pressed={sheet.chosen.includes(block.id)}
        onclick={(event) => sheet.choose(block.id, event.shiftKey)}
        onpointerenter={() => (sheet.pointed = block.id)}
        onpointerleave={() => (sheet.pointed = null)}
      >
        <span class="order">{n + 1} {signOf(block)}</span>
        {#if isText(block)}<span class="text" class:heading={block.role === 'heading'}>{readable(block.content) || 'an empty row'}</span>
        {:else}<span class="text quiet">{kindName(block)}{isTable(block) ? `: ${block.cells[0] ? readable(block.cells[0].texts[0]?.content) : ''} …` : block.alt ? `: ${block.alt}` : ''}</span>{/if}
      </button>
    {:else}
      <p class="quiet">There is nothing on this page.</p>
    {/each}
  </div>
</div>
{#if sheet.pending}<RegionReading {sheet} />{/if}

<style>
  .sheet {
    display: grid;
    flex: 1;
    grid-template: auto minmax(0, 1fr) / minmax(0, 1.15fr) minmax(0, 1fr);
    min-height: 0;
  }
  .tools {
    display: flex;
    grid-column: 1 / -1;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
    padding: 6px 14px;
    border-bottom: 1px solid var(--paper-edge);
    background: var(--paper);
    font-size: 13px;
  }
  .tools button,
  .tools select {
    min-height: 28px;
    padding: 2px 9px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
    cursor: pointer;
  }
  .tools button:disabled,
  .tools select:disabled {
    color: #6f6a5e;
    cursor: default;
  }
  .tools [aria-pressed='true'] {
    border-color: var(--verdigris);
    background: var(--verdigris);
    color: var(--sheet);
  }
  .tools [aria-pressed='true'] kbd {
    color: var(--ink);
  }
  .gap {
    width: 10px;
  }
  .pane {
    overflow: auto;
    background: var(--paper-deep);
  }
  .grabbing {
    cursor: grab;
  }
  .ground {
    width: max-content;
    min-width: 100%;
    padding: 14px 20px 14px 66px;
    box-sizing: border-box;
  }
  .proof {
    overflow-y: auto;
    padding: 8px 0;
    border-left: 1px solid var(--paper-edge);
    background: var(--sheet);
  }
  .proof button {
    display: grid;
    grid-template-columns: 54px minmax(0, 1fr);
    gap: 8px;
    width: 100%;
    padding: 5px 16px 5px 10px;
    border: 0;
    border-left: 3px solid transparent;
    background: none;
    color: var(--ink);
    font: inherit;
    text-align: left;
    cursor: pointer;
  }
  .order {
    color: var(--ink-soft);
    font-size: 12px;
    text-align: right;
  }
  .text {
    overflow-wrap: anywhere;
    font-family: var(--serif);
    font-size: 15px;
    line-height: 1.4;
    white-space: pre-wrap;
  }
  .heading {
    font-weight: 650;
  }
  .aside .text {
    color: var(--ink-soft);
    font-style: italic;
  }
  .proof .pointed {
    background: var(--verdigris-wash);
  }
  .proof .chosen {
    border-left-color: var(--verdigris);
    background: var(--verdigris-wash);
  }
  p {
    padding: 20px;
  }
  @media (max-width: 700px) {
    .sheet {
      grid-template: auto minmax(0, 1.3fr) minmax(0, 1fr) / minmax(0, 1fr);
    }
    .proof {
      border-top: 1px solid var(--paper-edge);
      border-left: 0;
    }
  }
</style>
