<script lang="ts">
  /** The tab stops of the row in hand, on a measure above it: dragged, moved by arrow keys, put where one clicks, taken away with Delete. And
      where its lines begin, for its style. */
  import type { ResolvedStyle, TabStop, TextBlock } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import Indents from './Indents.svelte';
  import { grip, millimetres, toHalfPoint } from './grip';
  import { pixelsPerPoint } from './tabStops';

  interface Props {
    proof: Proof;
    block: TextBlock;
    /** The element with the row's text, which the measure is as wide as. */
    text: HTMLElement | undefined;
    /** The style whose indents are shown, if any. */
    indented: ResolvedStyle | undefined;
    flush: () => void;
  }
  let { proof, block, text, indented, flush }: Props = $props();

  const FIRST = 72; // points: where the first stop is put by a key
  const MOST = 1584; // points
  const NEXT = { left: 'center', center: 'right', right: 'left', justify: 'left', decimal: 'left' } as const;
  const NAMES = { left: 'begins here', center: 'is in the middle here', right: 'ends here', justify: 'begins here', decimal: 'ends here' } as const;

  let moved = $state.raw<TabStop[] | null>(null);
  let width = $state(0);

  const stops = $derived(moved ?? block.tabs ?? []);
  const points = $derived((void width, text ? pixelsPerPoint(text, stops) : 1));

  $effect(() => {
    const measured = text;
    if (!measured) return;
    const sizes = new ResizeObserver(() => (width = measured.clientWidth));
    sizes.observe(measured);
    return () => sizes.disconnect();
  });

  function save(tabs: readonly TabStop[]) {
    flush();
    const saved = (moved = [...tabs]);
    void proof.send({ op: 'tabs', block: block.id, tabs: saved }).then(() => {
      if (moved === saved) moved = null; // else it was moved on meanwhile
    });
  }

  const replaced = (n: number, stop: TabStop) => stops.map((one, k) => (k === n ? stop : one));
  const within = (at: number) => Math.max(1, toHalfPoint(at));

  function pressed(event: KeyboardEvent, n: number) {
    const stop = stops[n]!;
    if (event.altKey || event.ctrlKey) return;
    if (event.key === 'Delete') save(stops.filter((_, k) => k !== n));
    else if (event.key === 'Enter') save(replaced(n, { ...stop, align: NEXT[stop.align ?? 'left'] }));
    else if (event.key === '.') save(replaced(n, { ...stop, leader: !stop.leader }));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function put(event: MouseEvent) {
    if (event.target !== event.currentTarget) return;
    save([...stops, { at: within((event.clientX - (event.currentTarget as HTMLElement).getBoundingClientRect().left) / points) }]);
  }
</script>

<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions: the button does the same -->
<div class="measure" class:tall={indented} title="Click to put a tab stop" onclick={put} onmousedown={(event) => event.preventDefault()}>
  {#if indented}<Indents {proof} style={indented} {points} {flush} />{/if}
  {#each stops as stop, n (n)}
    <button
      role="slider"
      class="stop {stop.align ?? 'left'}"
      class:led={stop.leader}
      aria-label="Tab stop {n + 1}: what follows {NAMES[stop.align ?? 'left']}{stop.leader ? ', dots lead to it' : ''}"
      aria-valuemin="0"
      aria-valuemax={MOST}
      aria-valuenow={Math.round(stop.at)}
      aria-valuetext="{millimetres(stop.at)} mm"
      title="{millimetres(stop.at)} mm. Drag, or: arrows move, Enter turns sides, . leads with dots, Delete takes away"
      style:left="{stop.at * points}px"
      use:grip={{ at: stop.at, points, move: (at) => (moved = replaced(n, { ...stop, at: within(at) })), save: () => moved && save(moved) }}
      onkeydown={(event) => pressed(event, n)}><span>{millimetres(stop.at)}</span></button
    >
  {/each}
  <button class="more" aria-label="Put a tab stop" title="Put a tab stop" onclick={() => save([...stops, { at: (stops.at(-1)?.at ?? 0) + FIRST }])}>+</button>
</div>

<style>
  .measure {
    position: relative;
    height: 20px;
    margin-bottom: 3px;
    border-bottom: 1px solid var(--verdigris);
    cursor: crosshair;
  }
  .tall {
    height: 34px;
  }
  .stop {
    position: absolute;
    bottom: -1px;
    padding: 0 0 3px;
    border: 0;
    border-bottom: 3px solid var(--verdigris);
    background: none;
    color: var(--ink);
    cursor: ew-resize;
    font: 11px/1.2 var(--sans);
    touch-action: none;
  }
  .stop span {
    padding: 0 3px;
  }
  .stop.center {
    transform: translateX(-50%);
  }
  .stop.right {
    transform: translateX(-100%);
  }
  .stop.led {
    border-bottom-style: dotted;
  }
  .more {
    position: absolute;
    right: 0;
    bottom: 1px;
    width: 20px;
    border: 0;
    background: none;
    color: var(--verdigris);
    cursor: pointer;
    font: 600 14px/1.2 var(--sans);
  }
</style>
