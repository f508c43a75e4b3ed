<script lang="ts">
  /** Where the rows of a style begin, and their first lines, on the measure: dragged, or moved by arrow keys. All rows of the style follow. */
  import type { ResolvedStyle } from '../api/client';
  import type { Proof } from '../state/proof.svelte';

  interface Props {
    proof: Proof;
    style: ResolvedStyle;
    /** Pixels for each point. */
    points: number;
    flush: () => void;
  }
  let { proof, style, points, flush }: Props = $props();

  type Edge = 'left' | 'first';

  const STEP = 2; // points by an arrow key
  const PAUSE = 400; // milliseconds after the last arrow key until the place is saved
  const MOST = 1500; // points
  const MILLIMETRES = 25.4 / 72;

  let held: { edge: Edge; x: number; from: number } | null = null;
  let moved = $state.raw<Partial<Record<Edge, number>> | null>(null);
  let timer: ReturnType<typeof setTimeout> | undefined;

  const left = $derived(moved?.left ?? style.left ?? 0);
  const first = $derived(moved?.first ?? style.first ?? 0);
  const places = $derived({ left, first: left + first });

  /** Moves an edge to a place, in points from the margin. */
  function move(edge: Edge, at: number) {
    const place = Math.round(Math.min(Math.max(at, 0), MOST) * 2) / 2;
    moved = edge === 'left' ? { left: Math.max(place, -first) } : { first: place - left };
  }

  function save() {
    clearTimeout(timer);
    timer = undefined;
    const look = moved;
    if (!look) return;
    flush();
    void proof.send({ op: 'change_style', style: style.id, look }).then(() => {
      if (moved === look) moved = null; // else it was moved on meanwhile
    });
  }

  function grabbed(event: PointerEvent, edge: Edge) {
    event.preventDefault();
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    held = { edge, x: event.clientX, from: places[edge] };
  }

  function dragged(event: PointerEvent) {
    if (held) move(held.edge, held.from + (event.clientX - held.x) / points);
  }

  function dropped() {
    held = null;
    save();
  }

  function pressed(event: KeyboardEvent, edge: Edge) {
    if (event.altKey || event.ctrlKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    move(edge, places[edge] + (event.key === 'ArrowLeft' ? -STEP : STEP));
    event.preventDefault();
    event.stopPropagation();
  }

  function later() {
    clearTimeout(timer);
    timer = setTimeout(save, PAUSE);
  }

  const EDGES: { edge: Edge; word: string; says: string }[] = [
    { edge: 'first', word: 'first', says: 'First lines' },
    { edge: 'left', word: 'rows', says: 'Rows' },
  ];
</script>

{#each EDGES as { edge, word, says } (edge)}
  <button
    role="slider"
    class={edge}
    aria-label="{says} of {style.name} begin here"
    aria-valuemin="0"
    aria-valuemax={MOST}
    aria-valuenow={Math.round(places[edge])}
    aria-valuetext="{Math.round(places[edge] * MILLIMETRES)} mm"
    title="{says} of {style.name} begin {Math.round(places[edge] * MILLIMETRES)} mm from the margin. Drag, or use the arrows: all rows of the style follow"
    style:left="{places[edge] * points}px"
    onpointerdown={(event) => grabbed(event, edge)}
    onpointermove={dragged}
    onpointerup={dropped}
    onpointercancel={dropped}
    onkeydown={(event) => pressed(event, edge)}
    onkeyup={later}
    onblur={save}>{word} {Math.round(places[edge] * MILLIMETRES)}</button
  >
{/each}

<style>
  button {
    position: absolute;
    padding: 0 4px;
    border: 0;
    border-left: 3px solid var(--saffron);
    background: none;
    color: var(--ink);
    cursor: ew-resize;
    font: 11px/1.2 var(--sans);
    white-space: nowrap;
    touch-action: none;
  }
  .first {
    top: 0;
  }
  .left {
    top: 16px;
  }
</style>
