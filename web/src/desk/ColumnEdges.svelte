<script lang="ts">
  /** The edges of a table's columns above it: dragged, or moved with the arrow keys. */
  import type { TableBlock } from '../api/client';

  interface Props {
    block: TableBlock;
    /** Columns as they are drawn: where each ends, in pixels from the left of the table. */
    ends: readonly number[];
    /** Widths in points, while they are changed and when that is done. */
    changing: (widths: number[]) => void;
    changed: (widths: number[]) => void;
  }
  let { block, ends, changing, changed }: Props = $props();

  const LEAST = 12; // points of a column
  const STEP = 4; // points by an arrow key

  let held: { edge: number; x: number; widths: number[] } | null = null;
  let moved: number[] | null = null;

  const points = $derived(block.widths.reduce((sum, width) => sum + width, 0) / Math.max(ends.at(-1) ?? 1, 1));

  /** The widths with an edge moved by some points: the next column gives, or takes; the last edge makes the table wider or narrower. */
  function withMoved(widths: readonly number[], edge: number, by: number): number[] {
    const out = [...widths];
    const most = edge + 1 < out.length ? out[edge + 1]! - LEAST : Infinity;
    const step = Math.max(LEAST - out[edge]!, Math.min(by, most));
    out[edge] = Math.round((out[edge]! + step) * 10) / 10;
    if (edge + 1 < out.length) out[edge + 1] = Math.round((out[edge + 1]! - step) * 10) / 10;
    return out;
  }

  function grabbed(event: PointerEvent, edge: number) {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    held = { edge, x: event.clientX, widths: [...block.widths] };
  }

  function dragged(event: PointerEvent) {
    if (!held) return;
    moved = withMoved(held.widths, held.edge, (event.clientX - held.x) * points);
    changing(moved);
  }

  function done() {
    if (moved) changed(moved);
    held = null;
    moved = null;
  }

  function pressed(event: KeyboardEvent, edge: number) {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (!by || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    moved = withMoved(moved ?? block.widths, edge, by);
    changing(moved);
  }
</script>

<div class="edges" style:width="{ends.at(-1) ?? 0}px">
  {#each ends as end, n (n)}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions: a separator that is moved is a control -->
    <div
      class="edge"
      role="separator"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Right edge of column {n + 1}"
      aria-valuenow={Math.round(block.widths[n] ?? 0)}
      aria-valuemin={LEAST}
      title="Drag, or use the arrow keys"
      style:left="{end}px"
      onpointerdown={(event) => grabbed(event, n)}
      onpointermove={dragged}
      onpointerup={done}
      onpointercancel={done}
      onkeydown={(event) => pressed(event, n)}
      onkeyup={(event) => event.key.startsWith('Arrow') && done()}
    ></div>
  {/each}
</div>

<style>
  .edges {
    position: relative;
    height: 14px;
    border-bottom: 1px solid var(--paper-edge);
  }
  .edge {
    position: absolute;
    top: 0;
    width: 13px;
    height: 14px;
    margin-left: -7px;
    cursor: col-resize;
    touch-action: none;
  }
  .edge::before {
    position: absolute;
    top: 3px;
    left: 5px;
    width: 3px;
    height: 11px;
    border-radius: 1px;
    background: var(--verdigris);
    content: '';
  }
  .edge:focus-visible {
    outline: 2px solid var(--verdigris);
  }
</style>
