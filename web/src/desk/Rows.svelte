<script lang="ts">
  /**
   * All rows of the proof, of which only those near the window are drawn. Rows differ in height: those drawn are measured,
   * the others are taken to be as high as the measured ones are on average.
   */
  import { tick } from 'svelte';
  import { isText } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import { copyRows, pasteRows } from './copiedRows';
  import { pressedOnRow } from './rowKeys';
  import Slip from '../queries/Slip.svelte';
  import Row from './Row.svelte';

  let { proof, page = $bindable() }: { proof: Proof; page: number } = $props();

  const BEYOND = 700; // pixels drawn above and below what is seen
  const FIRST_GUESS = 92;
  const GUTTER = 46;

  const measured = new Map<string, number>();
  let version = $state(0);
  let scrolled = $state(0);
  let height = $state(600);
  let width = $state(1200);
  let pane: HTMLElement;

  /** Tops of all rows and, last, the bottom of the lowest. */
  const tops = $derived.by(() => {
    void version;
    let sum = 0;
    for (const one of measured.values()) sum += one;
    const usual = measured.size ? sum / measured.size : FIRST_GUESS;
    const out = new Float64Array(proof.blocks.length + 1);
    proof.blocks.forEach((block, i) => (out[i + 1] = out[i]! + ((block && measured.get(block.id)) ?? usual)));
    return out;
  });
  const first = $derived(Math.max(rowAt(scrolled - BEYOND), 0));
  const last = $derived(Math.min(rowAt(scrolled + height + BEYOND) + 1, proof.total));
  const narrow = $derived(width < 640);
  const stripWidth = $derived(narrow ? width - 32 : (width - GUTTER) / 2 - 28);

  $effect(() => proof.want(first, last));
  $effect(() => {
    const top = proof.blocks[rowAt(scrolled + 12)];
    if (top?.spots?.[0]) page = top.spots[0][0] as number;
  });

  const inHand = $derived(proof.queries.inHand);
  $effect(() => {
    // The query in hand is brought into view with its row.
    const standing = inHand;
    if (standing) void tick().then(() => showQuery(standing.place));
  });

  async function showQuery(place: number) {
    proof.want(place, place + 1);
    if (place < first || place >= last) await showRow(place);
    const id = proof.blocks[place]?.id;
    if (id && proof.selected !== id) {
      proof.editing = null;
      lastShown = id;
      proof.selected = id;
    }
    await tick();
    const slot = pane.querySelector<HTMLElement>(`[data-place="${place}"]`);
    if (!slot) return;
    const [top, bottom] = [slot.offsetTop - pane.offsetTop, slot.offsetTop - pane.offsetTop + slot.offsetHeight];
    const room = narrow ? pane.clientHeight * 0.4 : pane.clientHeight;
    if (bottom - pane.scrollTop > room) pane.scrollTop = Math.min(bottom - room, top);
    if (top < pane.scrollTop) pane.scrollTop = top;
    // In a long table the row alone does not show the place.
    if (bottom - top > room) slot.querySelector('.doubt.current')?.scrollIntoView({ block: 'center', inline: 'center' });
  }

  function rowAt(y: number): number {
    let low = 0;
    let high = tops.length - 2;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (tops[middle]! <= y) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  const watcher = new ResizeObserver((entries) => {
    let changed = false;
    for (const entry of entries) {
      const element = entry.target as HTMLElement;
      const tall = element.offsetHeight;
      if (element.dataset.id && tall && measured.get(element.dataset.id) !== tall) {
        measured.set(element.dataset.id, tall);
        changed = true;
      }
    }
    if (changed) version++;
  });

  function measure(element: HTMLElement) {
    watcher.observe(element);
    return { destroy: () => watcher.unobserve(element) };
  }

  /** Scrolls until the row is at the top; heights settle as rows are drawn, so it aims more than once. */
  async function showRow(place: number) {
    // The clerk may be looking at something else meanwhile.
    for (let n = 0; n < 4 && pane; n++) {
      pane.scrollTop = tops[place] ?? 0;
      scrolled = pane.scrollTop;
      await tick();
      await new Promise(requestAnimationFrame);
    }
  }

  export async function goToRow(place: number) {
    proof.want(place, place + 1);
    await showRow(place);
  }

  export async function goToPage(number: number) {
    const place = proof.ladder[number - 1]?.first_row;
    if (place === null || place === undefined) return;
    await showRow(place);
    page = number;
  }

  /** Selects the row ``by`` places away, or the first or last one on the way; returns whether there is one. */
  async function step(by: number, caret: number | null) {
    const from = proof.place(proof.selected);
    const wanted = from < 0 ? (by < 0 ? 0 : by > 1 ? by : 0) : from + by;
    const place = Math.abs(by) > 1 ? Math.min(Math.max(wanted, 0), proof.total - 1) : wanted;
    if (place < 0 || place >= proof.total) return false;
    proof.want(place, place + 1);
    if (!proof.blocks[place]) {
      await showRow(place);
      await loaded(place);
    }
    const block = proof.blocks[place];
    if (!block) return false;
    proof.selected = block.id;
    proof.editing = caret !== null && isText(block) && !block.excluded && !proof.readOnly ? { at: caret } : null;
    await tick();
    await bringIntoView(block.id);
    return true;
  }

  /** Waits until a row is loaded, for a while. */
  async function loaded(place: number) {
    for (let n = 0; n < 40 && !proof.blocks[place]; n++) await new Promise((done) => setTimeout(done, 50));
  }

  async function bringIntoView(id: string) {
    const place = proof.place(id);
    if (place < first || place >= last) await showRow(place);
    const element = pane.querySelector<HTMLElement>(`[data-id="${CSS.escape(id)}"]`);
    element?.scrollIntoView({ block: 'nearest' });
    if (!proof.editing) element?.focus({ preventScroll: true });
  }

  let lastShown: string | null = null;
  $effect(() => {
    // A row that was made or moved is where the clerk goes on.
    const id = proof.selected;
    if (id && id !== lastShown && proof.place(id) >= 0) void tick().then(() => bringIntoView(id));
    lastShown = id;
  });
</script>

<svelte:window
  onkeydown={(event) => pressedOnRow(event, proof, step)}
  oncopy={(event) => copyRows(event, proof)}
  onpaste={(event) => pasteRows(event, proof)}
/>

<div
  class="pane"
  class:narrow
  bind:this={pane}
  bind:clientHeight={height}
  bind:clientWidth={width}
  onscroll={() => (scrolled = pane.scrollTop)}
>
  <div style:height="{tops[first]}px"></div>
  {#each { length: Math.max(last - first, 0) } as _, i (proof.blocks[first + i]?.id ?? `place ${first + i}`)}
    {@const block = proof.blocks[first + i]}
    {#if block}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex: the row in hand takes the keys of rows -->
      <div class="slot" data-id={block.id} data-place={first + i} use:measure role="group" tabindex={proof.selected === block.id ? 0 : -1} aria-label="Row {first + i + 1}">
        <Row {proof} {block} place={first + i} {stripWidth} {step} />
        {#if inHand && inHand.place === first + i}<Slip {proof} standing={inHand} width={narrow ? width - 28 : (width - GUTTER) / 2 - 28} />{/if}
      </div>
    {:else}
      <div class="unknown" aria-hidden="true"></div>
    {/if}
  {/each}
  <div style:height="{Math.max((tops[proof.total] ?? 0) - (tops[last] ?? 0), 0)}px"></div>
  {#if !proof.total}<p class="nothing">There is nothing on the pages of this document.</p>{/if}
</div>

<style>
  .pane {
    flex: 1;
    overflow-y: auto;
    background: linear-gradient(to right, var(--paper-deep) calc(50% - 23px), var(--paper) calc(50% - 23px), var(--paper) calc(50% + 23px), var(--sheet) calc(50% + 23px));
  }
  .pane.narrow {
    background: var(--sheet);
  }
  .slot:focus {
    outline: none;
  }
  .slot:focus-visible :global(.gutter) {
    outline: 2px solid var(--ink);
    outline-offset: -3px;
  }
  .unknown {
    height: 92px;
    border-bottom: 1px solid var(--paper-edge);
  }
  .nothing {
    padding: 40px;
    color: var(--ink-soft);
    font-family: var(--serif);
    font-size: 18px;
    text-align: center;
  }
</style>
