<script lang="ts">
  /** The page of the source with an outline round each region; outlines are drawn, moved and resized with the pointer. */
  import { stripAddress } from '../api/client';
  import { kindName, signOf } from '../shared/blocks';
  import type { Area, Region, SheetPage } from '../state/sheet.svelte';

  let { sheet, zoom, tool, done }: { sheet: SheetPage; zoom: number; tool: 'choose' | 'draw' | 'split'; done: () => void } = $props();

  const SMALLEST = 5; // points
  const EDGES = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'] as const;
  type Edge = (typeof EDGES)[number] | 'all' | 'new';

  let drag = $state.raw<{ region: Region | null; edge: Edge; from: [number, number]; area: Area } | null>(null);
  let page: HTMLElement;

  const scale = $derived(zoom * devicePixelRatio > 2.2 ? 4.17 : zoom * devicePixelRatio > 1.1 ? 2.5 : 1.5);
  const address = $derived(stripAddress(sheet.proof.id, sheet.loaded || 1, null, scale, sheet.proof.view, sheet.reading));

  function at(event: PointerEvent): [number, number] {
    const box = page.getBoundingClientRect();
    return [(event.clientX - box.left) / zoom, (event.clientY - box.top) / zoom];
  }

  function begin(event: PointerEvent, region: Region | null, edge: Edge) {
    if (event.button !== 0 || sheet.proof.readOnly) return;
    const from = at(event);
    if (region && tool === 'split') {
      sheet.splitAt(region, from[1]);
      done();
      return event.preventDefault();
    }
    if (region && edge === 'all') sheet.choose(region.block.id, event.shiftKey);
    if (!region && tool !== 'draw') return;
    if (tool === 'draw') [region, edge] = [null, 'new'];
    event.stopPropagation();
    event.preventDefault();
    page.setPointerCapture(event.pointerId);
    drag = { region, edge, from, area: region ? region.area : [from[0], from[1], from[0], from[1]] };
  }

  function changed(area: Area, edge: Edge, dx: number, dy: number): Area {
    let [x0, y0, x1, y1] = area;
    if (edge === 'all') return within([x0 + dx, y0 + dy, x1 + dx, y1 + dy]);
    if (edge === 'new') return within([Math.min(x0, x0 + dx), Math.min(y0, y0 + dy), Math.max(x0, x0 + dx), Math.max(y0, y0 + dy)]);
    if (edge.includes('w')) x0 = Math.min(x0 + dx, x1 - SMALLEST);
    if (edge.includes('e')) x1 = Math.max(x1 + dx, x0 + SMALLEST);
    if (edge.includes('n')) y0 = Math.min(y0 + dy, y1 - SMALLEST);
    if (edge.includes('s')) y1 = Math.max(y1 + dy, y0 + SMALLEST);
    return within([x0, y0, x1, y1]);
  }

  function within([x0, y0, x1, y1]: Area): Area {
    return [Math.max(x0, 0), Math.max(y0, 0), Math.min(x1, sheet.width), Math.min(y1, sheet.height)];
  }

  const live = $derived(drag?.area ?? null);
  function move(event: PointerEvent) {
    if (!drag) return;
    const [x, y] = at(event);
    const start = drag.edge === 'new' ? ([drag.from[0], drag.from[1], drag.from[0], drag.from[1]] as Area) : drag.region!.area;
    drag = { ...drag, area: changed(start, drag.edge, x - drag.from[0], y - drag.from[1]) };
  }

  function end() {
    const was = drag;
    drag = null;
    if (!was) return;
    const area = was.area;
    const size = Math.min(area[2] - area[0], area[3] - area[1]);
    if (was.edge === 'new') {
      if (size >= SMALLEST) void sheet.readPlace(null, area);
      return done();
    }
    const old = was.region!.area;
    if (area.some((value, i) => Math.abs(value - old[i]!) > 0.8)) sheet.moved(was.region!, area);
  }

  const box = (area: Area) =>
    `left:${area[0] * zoom}px;top:${area[1] * zoom}px;width:${(area[2] - area[0]) * zoom}px;height:${(area[3] - area[1]) * zoom}px`;
</script>

<div
  bind:this={page}
  class="page {tool}"
  role="presentation"
  style:width="{sheet.width * zoom}px"
  style:height="{sheet.height * zoom}px"
  onpointerdown={(event) => begin(event, null, 'new')}
  onpointermove={move}
  onpointerup={end}
  onpointercancel={() => (drag = null)}
>
  <img src={address} alt="Page {sheet.loaded} of the source" draggable="false" />
  {#each sheet.regions as region (region.key)}
    {@const chosen = sheet.chosen.includes(region.block.id)}
    <div
      class="region"
      class:chosen
      class:pointed={sheet.pointed === region.block.id}
      class:aside={region.block.excluded}
      style={box(drag?.region?.key === region.key && live ? live : region.area)}
    >
      <button
        class="body"
        tabindex={chosen ? 0 : -1}
        aria-pressed={chosen}
        aria-label="Region {region.order}: {kindName(region.block)}{region.block.excluded ? ', set aside' : ''}"
        onpointerdown={(event) => begin(event, region, 'all')}
        onclick={(event) => event.detail === 0 && sheet.choose(region.block.id, event.shiftKey)}
        onpointerenter={() => (sheet.pointed = region.block.id)}
        onpointerleave={() => (sheet.pointed = null)}
      ></button>
      <span class="tag" aria-hidden="true">{region.order} {signOf(region.block)}</span>
      {#if chosen && tool === 'choose' && !sheet.proof.readOnly}
        {#each EDGES as edge (edge)}
          <span class="handle {edge}" role="presentation" onpointerdown={(event) => begin(event, region, edge)}></span>
        {/each}
      {/if}
    </div>
  {/each}
  {#if drag?.edge === 'new' && live}<div class="region chosen" style={box(live)}></div>{/if}
  {#if sheet.pending}<div class="region waiting" style={box(sheet.pending.area)}></div>{/if}
</div>

<style>
  .page {
    position: relative;
    background: #fff;
    box-shadow: 0 1px 8px rgb(29 37 48 / 25%);
    touch-action: pan-x pan-y;
  }
  .page.draw {
    cursor: crosshair;
    touch-action: none;
  }
  .page.split .body {
    cursor: row-resize;
  }
  img {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    user-select: none;
  }
  .region {
    position: absolute;
    outline: 1px solid rgb(29 37 48 / 45%);
    outline-offset: 2px;
  }
  .region.aside {
    outline-style: dotted;
  }
  .pointed,
  .chosen {
    outline: 2px solid var(--verdigris);
  }
  .chosen {
    box-shadow: 0 0 0 5px rgb(20 92 82 / 18%);
  }
  .waiting {
    outline: 2px dashed var(--saffron);
  }
  .body {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    padding: 0;
    border: 0;
    background: none;
    cursor: pointer;
  }
  .chosen .body {
    cursor: move;
  }
  .tag {
    position: absolute;
    top: -3px;
    right: calc(100% + 4px);
    padding: 0 4px;
    background: var(--paper-deep);
    color: var(--ink);
    font-size: 11px;
    line-height: 16px;
    white-space: nowrap;
    pointer-events: none;
  }
  .pointed .tag,
  .chosen .tag {
    background: var(--verdigris);
    color: var(--sheet);
  }
  .handle {
    position: absolute;
    width: 11px;
    height: 11px;
    margin: -6px;
    border: 2px solid var(--verdigris);
    background: var(--sheet);
    touch-action: none;
  }
  .nw { top: 0; left: 0; cursor: nwse-resize; }
  .n { top: 0; left: 50%; cursor: ns-resize; }
  .ne { top: 0; left: 100%; cursor: nesw-resize; }
  .e { top: 50%; left: 100%; cursor: ew-resize; }
  .se { top: 100%; left: 100%; cursor: nwse-resize; }
  .s { top: 100%; left: 50%; cursor: ns-resize; }
  .sw { top: 100%; left: 0; cursor: nesw-resize; }
  .w { top: 50%; left: 0; cursor: ew-resize; }
</style>
