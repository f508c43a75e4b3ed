<script lang="ts">
  /** Lines over a strip where columns of a table are to end: put there by a click, dragged, moved and taken away with keys. */
  import { onMount, tick } from 'svelte';

  interface Props {
    /** Places of the lines and the sides of the strip, in points from the left of the page. */
    edges: readonly number[];
    left: number;
    right: number;
    set: (edges: number[]) => void;
    make: () => void;
    leave: () => void;
  }
  let { edges, left, right, set, make, leave }: Props = $props();

  const STEP = 2; // points by an arrow key
  const NEAR = 7; // pixels from a line at which it is taken in hand

  let layer: HTMLElement;
  let held = $state<number | null>(null);

  // The keys go to the first of the strips.
  onMount(() => {
    if (!document.activeElement?.closest('.layer')) layer.focus();
  });

  const share = (edge: number) => ((edge - left) / (right - left)) * 100;

  function pointAt(event: PointerEvent): number {
    const box = layer.getBoundingClientRect();
    return left + Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) * (right - left);
  }

  const moved = (n: number, to: number) => edges.map((edge, k) => (k === n ? Math.min(Math.max(to, left), right) : edge));

  function pressedOn(event: PointerEvent) {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    layer.setPointerCapture(event.pointerId);
    const at = pointAt(event);
    const near = edges.findIndex((edge) => (Math.abs(share(edge) - share(at)) / 100) * layer.clientWidth < NEAR);
    if (near < 0) set([...edges, at]);
    held = near < 0 ? edges.length : near;
    void focusOn(held);
  }

  async function focusOn(n: number) {
    await tick();
    layer.querySelectorAll<HTMLElement>('.line')[Math.min(n, edges.length - 1)]?.focus();
  }

  function pressed(event: KeyboardEvent, n: number | null) {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by && n !== null) set(moved(n, edges[n]! + by));
    else if (event.key === 'Delete' && n !== null) {
      set(edges.filter((_, k) => k !== n));
      if (edges.length) void focusOn(Math.max(n - 1, 0));
      else layer.focus();
    } else if (event.key === '+' || event.key === 'Insert') {
      const after = n === null ? left : edges[n]!;
      const next = Math.min(...edges.filter((edge) => edge > after), right);
      set([...edges, (after + next) / 2]);
      void focusOn(edges.length);
    } else if (event.key === 'Enter') make();
    else if (event.key === 'Escape') leave();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions: lines are put into it with a click, or with the key + -->
<div
  class="layer"
  role="group"
  tabindex="0"
  aria-label="Column lines: click, or press +, to put one"
  bind:this={layer}
  onpointerdown={pressedOn}
  onpointermove={(event) => held !== null && set(moved(held, pointAt(event)))}
  onpointerup={() => (held = null)}
  onpointercancel={() => (held = null)}
  onclick={(event) => event.stopPropagation()}
  onkeydown={(event) => event.target === layer && pressed(event, null)}
>
  {#each edges as edge, n (n)}
    {#if edge >= left && edge <= right}
      <div
        class="line"
        role="slider"
        tabindex="0"
        aria-label="Column line {n + 1}"
        aria-valuenow={Math.round(edge)}
        aria-valuemin={Math.round(left)}
        aria-valuemax={Math.round(right)}
        style:left="{share(edge)}%"
        onkeydown={(event) => pressed(event, n)}
      ></div>
    {/if}
  {/each}
</div>

<style>
  .layer {
    position: absolute;
    inset: 0;
    cursor: col-resize;
    touch-action: none;
  }
  .layer:focus-visible {
    outline: 2px solid var(--verdigris);
  }
  .line {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 11px;
    margin-left: -6px;
  }
  .line::before {
    position: absolute;
    top: 0;
    bottom: 0;
    left: 4px;
    border-left: 3px dashed var(--verdigris);
    content: '';
  }
  .line:focus-visible {
    outline: 2px solid var(--verdigris);
  }
</style>
