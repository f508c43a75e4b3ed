<script lang="ts">
  /** The parts of the source that a block came from, cut out of their pages and set in as they stood there. While something asks for a
   * place on the page, a rectangle can be drawn on them. */
  import { stripAddress, type Block } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import type { Area } from '../state/sheet.svelte';
  import ColumnLines from './ColumnLines.svelte';
  import { cutAtLines } from './rowActions';

  interface Props {
    proof: Proof;
    block: Block;
    scale: number;
    stripWidth: number;
    /** Takes the page and the box, in points, of the rectangle that was drawn. */
    take: ((page: number, box: Area) => void) | null;
  }
  let { proof, block, scale, stripWidth, take }: Props = $props();

  const SMALLEST = 3; // pixels; less is a click

  const MARGIN = 4; // points at either side of what was read
  const ABOVE = 1.5; // points above and below, so that no neighbouring line shows
  const MOST_SPOTS = 8;

  const strips = $derived(
    (block.spots ?? []).slice(0, MOST_SPOTS).map((spot) => {
      const [number, area] = spot as unknown as [number, Area];
      const page = proof.pages.get(number);
      const box = [
        Math.max(area[0] - MARGIN, 0),
        Math.max(area[1] - ABOVE, 0),
        Math.min(area[2] + MARGIN, page?.width ?? Infinity),
        Math.min(area[3] + ABOVE, page?.height ?? Infinity),
      ] as const;
      const width = (box[2] - box[0]) * scale;
      const shrink = Math.min(1, stripWidth / width);
      const indent = Math.max((box[0] - (page?.text_left ?? box[0]) + MARGIN) * scale, 0);
      return {
        number,
        box,
        address: stripAddress(proof.id, number, box, Math.min(scale * shrink * devicePixelRatio * 1.25, 8), proof.view, page?.reading ?? 0),
        width: width * shrink,
        height: (box[3] - box[1]) * scale * shrink,
        indent: Math.min(indent, stripWidth - width * shrink),
      };
    }),
  );

  /** The rectangle that is being drawn: the strip, where it began and where it is now, in shares of the strip. */
  let drawing = $state<{ strip: number; from: [number, number]; to: [number, number] } | null>(null);

  function shareAt(event: PointerEvent): [number, number] {
    const { left, top, width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const share = (at: number, size: number) => Math.min(Math.max(at / size, 0), 1);
    return [share(event.clientX - left, width), share(event.clientY - top, height)];
  }

  function begin(event: PointerEvent, strip: number) {
    if (!take || event.button !== 0) return;
    event.preventDefault(); // the focus stays where it is
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    const at = shareAt(event);
    drawing = { strip, from: at, to: at };
  }

  const edges = (of: NonNullable<typeof drawing>, n: 0 | 1) => [Math.min(of.from[n], of.to[n]), Math.max(of.from[n], of.to[n])] as const;

  function end(event: PointerEvent) {
    const drawn = drawing;
    drawing = null;
    const strip = drawn && strips[drawn.strip];
    if (!drawn || !strip || !take) return;
    const { width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const [left, right] = edges(drawn, 0);
    const [top, bottom] = edges(drawn, 1);
    if ((right - left) * width < SMALLEST || (bottom - top) * height < SMALLEST) return;
    const [x, y, x1, y1] = strip.box;
    const box: Area = [x + left * (x1 - x), y + top * (y1 - y), x + right * (x1 - x), y + bottom * (y1 - y)];
    take(strip.number, box);
  }
</script>

{#each strips as strip, i (i)}
  <!-- svelte-ignore a11y_no_static_element_interactions: by keys, regions are drawn on the sheet -->
  <div
    class="strip"
    class:asked={take !== null}
    style:width="{strip.width}px"
    style:height="{strip.height}px"
    style:margin-left="{strip.indent}px"
    onpointerdown={(event) => begin(event, i)}
    onpointermove={(event) => drawing?.strip === i && (drawing.to = shareAt(event))}
    onpointerup={end}
    onpointercancel={() => (drawing = null)}
  >
    <img src={strip.address} alt="Source, page {strip.number}" loading="lazy" draggable="false" />
    {#if proof.columnLines?.blocks.includes(block.id)}
      <ColumnLines
        edges={proof.columnLines.edges}
        left={strip.box[0]}
        right={strip.box[2]}
        set={(edges) => proof.columnLines && (proof.columnLines = { ...proof.columnLines, edges })}
        make={() => cutAtLines(proof)}
        leave={() => (proof.columnLines = null)}
      />
    {/if}
    {#if drawing?.strip === i}
      {@const [left, right] = edges(drawing, 0)}
      {@const [top, bottom] = edges(drawing, 1)}
      <span
        class="drawn"
        style:left="{left * 100}%"
        style:top="{top * 100}%"
        style:width="{(right - left) * 100}%"
        style:height="{(bottom - top) * 100}%"
      ></span>
    {/if}
  </div>
{:else}
  <span class="quiet">not from the source</span>
{/each}

{#if proof.columnLines?.blocks.at(-1) === block.id}
  <div class="small-tools" role="toolbar" aria-label="Column lines">
    <span>Click where a column ends; drag, or Delete.</span>
    <button disabled={!proof.columnLines.edges.length} onclick={() => cutAtLines(proof)} title="Enter on a line">Make columns</button>
    <button onclick={() => (proof.columnLines = null)} title="Esc on a line">Leave it</button>
  </div>
{/if}

<style>
  .small-tools {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    margin-top: 8px;
    font-size: 13px;
  }
  .strip {
    position: relative;
    max-width: 100%;
  }
  .asked {
    cursor: crosshair;
    touch-action: none;
  }
  .drawn {
    position: absolute;
    outline: 2px solid var(--verdigris);
    background: color-mix(in srgb, var(--verdigris) 14%, transparent);
  }
  img {
    display: block;
    width: 100%;
    height: 100%;
    background: #fff;
    mix-blend-mode: multiply;
  }
  .strip + .strip {
    margin-top: 4px;
    border-top: 1px dashed var(--ink-soft);
  }
  .quiet {
    font-size: 13px;
    font-style: italic;
  }
</style>
