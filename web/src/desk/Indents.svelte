<script lang="ts">
  /** Where the rows of a style begin, and their first lines, on the measure: dragged, or moved by arrow keys. All rows of the style follow. */
  import type { ResolvedStyle } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { grip, millimetres, toHalfPoint } from './grip';

  interface Props {
    proof: Proof;
    style: ResolvedStyle;
    /** Pixels for each point. */
    points: number;
    flush: () => void;
  }
  let { proof, style, points, flush }: Props = $props();

  type Edge = 'left' | 'first';

  const MOST = 1500; // points

  let moved = $state.raw<Partial<Record<Edge, number>> | null>(null);

  const left = $derived(moved?.left ?? style.left ?? 0);
  const first = $derived(moved?.first ?? style.first ?? 0);
  const places = $derived({ left, first: left + first });

  /** Moves an edge to a place, in points from the margin. */
  function move(edge: Edge, at: number) {
    const place = toHalfPoint(Math.min(Math.max(at, 0), MOST));
    moved = edge === 'left' ? { left: Math.max(place, -first) } : { first: place - left };
  }

  function save() {
    const look = moved;
    if (!look) return;
    flush();
    void proof.send({ op: 'change_style', style: style.id, look }).then(() => {
      if (moved === look) moved = null; // else it was moved on meanwhile
    });
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
    aria-valuetext="{millimetres(places[edge])} mm"
    title="{says} of {style.name} begin {millimetres(places[edge])} mm from the margin. Drag, or use the arrows: all rows of the style follow"
    style:left="{places[edge] * points}px"
    use:grip={{ at: places[edge], points, move: (at) => move(edge, at), save }}>{word} {millimetres(places[edge])}</button
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
