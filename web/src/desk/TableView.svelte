<script lang="ts">
  /** A table: its cells drawn plainly, the one in hand with the live editor. */
  import type { Cell, Operation, TableBlock, TextBlock } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { caretOffset } from './caret';
  import ColumnEdges from './ColumnEdges.svelte';
  import { roomBehindDecimals } from './decimals';
  import EquationEditor from './EquationEditor.svelte';
  import type { RowEditor } from './editor';
  import LiveText from './LiveText.svelte';
  import { textLook } from './looks';
  import PlainRuns from './PlainRuns.svelte';
  import { joinInCell, splitInCell } from './rowActions';
  import TableTools from './TableTools.svelte';
  import { areaOf, areaOfBoth, besideInCell, cellAt, cellBeside, cellLook, cellOf, cellsByRow, cellsOfText, firstText, isWithin, stretchesOf } from './tables';

  interface Props {
    proof: Proof;
    block: TableBlock;
    place: number;
    active: boolean;
    scale: number;
    step: (by: -1 | 1, caret: number | null) => Promise<boolean>;
  }
  let { proof, block, place, active, scale, step }: Props = $props();

  let live = $state<LiveText>();
  let editor = $state.raw<RowEditor | null>(null);

  const FEW = 120; // rows that are always drawn all
  const BEYOND = '900px 0px'; // pixels above and below the window that are drawn
  const ROOM = 1.4; // typefaces of the screen run wider than those of most sources
  const USUAL_HEIGHT = 25; // pixels of a row that has not been drawn yet

  const rows = $derived(cellsByRow(block));
  const long = $derived(rows.length > FEW);
  const stretches = $derived(long ? stretchesOf(block) : [{ start: 0, end: rows.length }]);

  /** Of a long table the stretches near the window, and how high those are that have been drawn. */
  let near = $state.raw<ReadonlySet<number>>(new Set([0]));
  const heights = new Map<number, number>();

  function watch(body: HTMLElement, n: number) {
    const seen = new IntersectionObserver(
      ([entry]) => {
        if (!long || entry!.isIntersecting === near.has(n)) return;
        if (near.has(n)) heights.set(n, body.offsetHeight);
        const now = new Set(near);
        if (!now.delete(n)) now.add(n);
        near = now;
      },
      { root: body.closest('.pane'), rootMargin: BEYOND },
    );
    seen.observe(body);
    return { destroy: () => seen.disconnect() };
  }

  /** The row of the cell in hand, or of the query in hand; -1 where there is none. */
  const rowInHand = $derived.by(() => {
    const text = open ?? proof.queries.inHand?.query.block;
    return block.cells.find((cell) => cell.texts.some((one) => one.id === text))?.row ?? -1;
  });
  const isDrawn = (n: number, { start, end }: { start: number; end: number }) =>
    !long || near.has(n) || (start <= rowInHand && rowInHand < end);
  /** Widths of columns while an edge is dragged. */
  let dragged = $state.raw<number[] | null>(null);
  const widths = $derived(dragged ?? block.widths);
  const total = $derived(widths.reduce((sum, width) => sum + width, 0));

  /** Where the columns end as they are drawn, in pixels. */
  let ends = $state.raw<number[]>([]);
  let table = $state<HTMLTableElement>();

  function measure() {
    if (!table) return;
    const { left } = table.getBoundingClientRect();
    ends = [...table.querySelectorAll('col')].map((column) => column.getBoundingClientRect().right - left);
  }

  $effect(() => {
    if (!active || !table || proof.readOnly) return;
    void widths;
    measure();
    const seen = new ResizeObserver(measure);
    seen.observe(table);
    return () => seen.disconnect();
  });

  const body = $derived(proof.opened?.styles[0]?.size ?? 11);
  const open = $derived(active && !proof.readOnly ? (proof.editing?.text ?? null) : null);
  const cellInHand = $derived(cellOf(block, open));
  const inHand = $derived(cellInHand?.texts.find((text) => text.id === open));

  /** The cell up to which cells are marked, from the one in hand. */
  let corner = $state.raw<Cell | null>(null);
  const area = $derived(cellInHand ? areaOfBoth(cellInHand, corner ?? cellInHand) : null);
  const several = $derived(area !== null && corner !== null);
  const textOfEquation = $derived(block.cells.flatMap((cell) => cell.texts).find((text) => text.id === proof.equation?.block));
  const languageOf = (text: TextBlock) => text.language || proof.opened?.language || 'en';
  const styleOf = (text: TextBlock) => proof.opened?.styles.find((one) => one.id === text.style);

  /** The room behind numbers that are aligned by decimals. */
  const behind = $derived(roomBehindDecimals(block));

  function type(text: TextBlock | undefined, at = -1): boolean {
    if (!text) return false;
    corner = null;
    proof.selected = block.id;
    proof.queries.current = null;
    if (!proof.readOnly) proof.editing = { at, text: text.id };
    return true;
  }

  function clicked(event: MouseEvent, text: TextBlock) {
    if (event.shiftKey && cellInHand) {
      event.stopPropagation();
      corner = cellOf(block, text.id) ?? null;
      return;
    }
    if (event.shiftKey) return;
    event.stopPropagation();
    proof.unmark();
    type(text, caretOffset(event.currentTarget as HTMLElement, event));
  }

  /** In a cell, beside its text: typing goes on at the end of that. */
  function clickedBeside(event: MouseEvent, cell: Cell) {
    if (event.target instanceof Element && !event.target.closest('.text, .typing, button, a') && !event.shiftKey) {
      event.stopPropagation();
      proof.unmark();
      type(cell.texts.at(-1));
    }
  }

  const eventsOf = (text: TextBlock) => ({
    // In a list within a cell, keys do what they do in lists; other cells are left for the one below.
    split: (offset: number) => (text.numbering ? splitInCell(proof, block, text, offset) : type(cellBeside(block, text.id, 1, 0)) || true),
    joinBefore: () => (text.numbering ? joinInCell(proof, block, text, true) : false),
    joinAfter: () => (text.numbering && besideInCell(block, text.id) ? joinInCell(proof, block, text, false) : false),
    tab: (back: boolean) => type(cellBeside(block, text.id, 0, back ? -1 : 1)) || ((proof.editing = null), true),
    equation: (at: number, until: number) => {
      proof.selected = block.id;
      proof.queries.current = null;
      proof.editing = null;
      if (!proof.readOnly) proof.equation = { block: text.id, at, until };
      return true;
    },
    pasted,
    leave: (direction: -1 | 0 | 1) => {
      if (direction === 0 && corner) corner = null;
      else if (direction === 0) proof.editing = null;
      else if (!type(cellBeside(block, text.id, direction, 0))) void step(direction, direction > 0 ? 0 : -1);
      return true;
    },
  });

  function reopen() {
    const now = proof.block(block.id);
    if (proof.selected === block.id && now?.type === 'table' && open) proof.editing = { at: -1, text: open };
    else proof.editing = null;
  }

  /** Alt, Shift and an arrow mark one more cell on that side. */
  function pressed(event: KeyboardEvent) {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (!by || !event.altKey || !event.shiftKey || !cellInHand) return;
    event.preventDefault();
    event.stopPropagation();
    const end = areaOf(corner ?? cellInHand);
    const row = by[0]! > 0 ? end.row + end.rows : end.row + by[0]!;
    const column = by[1]! > 0 ? end.column + end.columns : end.column + by[1]!;
    if (row >= 0 && column >= 0) corner = cellAt(block, row, column) ?? corner;
  }

  /** Does something to the table; typing goes on in the same cell, or in the one that has come into its place. */
  function change(operation: Operation) {
    const from = cellInHand;
    const text = open;
    live?.flush();
    corner = null;
    void proof.send(operation).then((sent) => {
      dragged = null;
      if (!sent || !from || proof.selected !== block.id) return;
      const now = proof.block(block.id);
      if (now?.type !== 'table') return void (proof.editing = null);
      const next = (cellOf(now, text) && text) ?? cellAt(now, from.row, from.column)?.texts[0]?.id;
      proof.editing = next ? { at: -1, text: next } : null;
    });
  }

  /** Cells of another program fill those from the one in hand on. */
  function pasted(text: string): boolean {
    const texts = cellsOfText(text);
    if (!texts || !cellInHand) return false;
    change({ op: 'fill_cells', block: block.id, row: cellInHand.row, column: cellInHand.column, texts });
    return true;
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex: a wide table is scrolled with the keys too -->
<div class="wide" tabindex="0" role="region" aria-label="Table of {rows.length} rows, {block.widths.length} columns" onkeydowncapture={pressed}>
  {#if active && !proof.readOnly}
    <ColumnEdges {block} {ends} changing={(now) => (dragged = now)} changed={(now) => change({ op: 'column_widths', block: block.id, widths: now })} />
  {/if}
  <table bind:this={table} class:long class:set={dragged} style:width={long ? null : `min(100%, ${total * Math.min(scale, 1.25) * ROOM}px)`} class:ruled={block.ruled ?? true} style:margin-inline={block.align === 'center' ? 'auto' : block.align === 'right' ? 'auto 0' : '0 auto'}>
    <colgroup>{#each widths as width, n (n)}<col style:width="{(100 * width) / total}%" />{/each}</colgroup>
    {#each stretches as stretch, n (stretch.start)}
      <tbody use:watch={n}>
        {#if isDrawn(n, stretch)}
          {#each rows.slice(stretch.start, stretch.end) as cells, k (k)}
            {@const row = stretch.start + k}
            <tr class:header={row < (block.header_rows ?? 0)}>
              {#each cells as cell (cell.column)}
                <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions: keys go from cell to cell -->
                <td onclick={(event) => clickedBeside(event, cell)} colspan={cell.columns ?? 1} rowspan={cell.rows ?? 1} style={cellLook(cell)} class:open={cell.texts.some((text) => text.id === open)} class:marked={several && isWithin(cell, area!)}>
                  {#each cell.texts as text (text.id)}
                    <div class="cell" style={textLook(styleOf(text), body, Math.min(scale, 1.25), text.align)} style:padding-right={behind.get(text.id)} class:decimal={text.align === 'decimal'} style:padding-left={text.numbering && text.level ? `${text.level * 1.2}em` : null}>
                      {#if text.numbering}<span class="mark" aria-hidden="true">{proof.labels[text.id] ?? ''}</span>{/if}
                      {#if text.id === open}
                        {#key proof.editing}
                          <LiveText
                            bind:this={live}
                            bind:editor
                            {proof}
                            block={text}
                            language={languageOf(text)}
                            label="Row {cell.row + 1}, column {cell.column + 1} of the table"
                            events={eventsOf(text)}
                            {reopen}
                          />
                        {/key}
                      {:else}
                        <!-- svelte-ignore a11y_click_events_have_key_events: Enter on the row opens its first cell, Tab goes on -->
                        <div class="text" role="presentation" onclick={(event) => clicked(event, text)}><PlainRuns
                            content={text.content ?? []}
                            queries={proof.queries.byRow.get(text.id)}
                            current={proof.queries.current}
                            open={(query) => (proof.queries.current = query.id)}
                            openEquation={(at) => eventsOf(text).equation(at, at + 1)}
                            language={languageOf(text)}
                          /></div>
                      {/if}
                    </div>
                  {/each}
                </td>
              {/each}
            </tr>
          {/each}
        {:else}
          <tr aria-hidden="true"><td colspan={block.widths.length} style:height="{heights.get(n) ?? (stretch.end - stretch.start) * USUAL_HEIGHT}px"></td></tr>
        {/if}
      </tbody>
    {/each}
  </table>
</div>
{#if active && proof.equationInHand && textOfEquation && !proof.readOnly}
  {#key proof.equation}
    <EquationEditor
      {proof}
      block={textOfEquation}
      at={proof.equationInHand.at}
      until={proof.equationInHand.until}
      language={languageOf(textOfEquation)}
    />
  {/key}
{:else if active && !proof.readOnly && !proof.queries.current}
  <TableTools
    {proof}
    {block}
    {place}
    {editor}
    text={inHand}
    textAlign={inHand ? (inHand.align ?? styleOf(inHand)?.align ?? 'left') : 'left'}
    {area}
    flush={() => live?.flush()}
    {change}
    open={() => type(firstText(block))}
  />
{/if}

<style>
  .wide {
    overflow-x: auto;
  }
  .wide:focus-visible {
    outline: 2px solid var(--verdigris);
    outline-offset: 2px;
  }
  table {
    --cell-line: #b9ae97;
    border-collapse: collapse;
  }
  .long {
    width: 100%;
    table-layout: fixed;
  }
  td {
    padding: 2px 6px;
    vertical-align: top;
  }
  .ruled td {
    border: 1px solid var(--cell-line);
  }
  .decimal {
    font-variant-numeric: tabular-nums;
  }
  .header td {
    background: var(--paper);
  }
  .set {
    table-layout: fixed;
  }
  .marked {
    background: var(--verdigris-wash);
  }
  .open {
    outline: 2px solid var(--verdigris);
    outline-offset: -1px;
  }
  .cell {
    display: flex;
    line-height: 1.4;
  }
  .mark {
    min-width: 1em;
    color: var(--ink-soft);
  }
  .cell :global(.typing) {
    min-width: min-content;
  }
  .text {
    flex: 1;
    min-width: 0.5em;
    min-height: 1.4em;
    cursor: text;
    white-space: pre-wrap;
  }
</style>
