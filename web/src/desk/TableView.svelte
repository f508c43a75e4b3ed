<script lang="ts">
  /** A table: its cells drawn plainly, the one in hand with the live editor. */
  import type { TableBlock, TextBlock } from '../api/client';
  import { ALIGNMENTS } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import { caretOffset } from './caret';
  import EquationEditor from './EquationEditor.svelte';
  import type { RowEditor } from './editor';
  import LiveText from './LiveText.svelte';
  import { textLook } from './looks';
  import PlainRuns from './PlainRuns.svelte';
  import { insertBelow, setAlign, tableToRows } from './rowActions';
  import RowTools from './RowTools.svelte';
  import { cellBeside, cellsByRow, firstText, stretchesOf } from './tables';

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
  const total = $derived(block.widths.reduce((sum, width) => sum + width, 0));
  const body = $derived(proof.opened?.styles[0]?.size ?? 11);
  const open = $derived(active && !proof.readOnly ? (proof.editing?.text ?? null) : null);
  const inHand = $derived(block.cells.flatMap((cell) => cell.texts).find((text) => text.id === open));
  const textOfEquation = $derived(block.cells.flatMap((cell) => cell.texts).find((text) => text.id === proof.equation?.block));
  const languageOf = (text: TextBlock) => text.language || proof.opened?.language || 'en';
  const styleOf = (text: TextBlock) => proof.opened?.styles.find((one) => one.id === text.style);

  function type(text: TextBlock | undefined, at = -1): boolean {
    if (!text) return false;
    proof.selected = block.id;
    proof.queries.current = null;
    if (!proof.readOnly) proof.editing = { at, text: text.id };
    return true;
  }

  function clicked(event: MouseEvent, text: TextBlock) {
    event.stopPropagation();
    proof.unmark();
    type(text, caretOffset(event.currentTarget as HTMLElement, event));
  }

  const eventsOf = (text: TextBlock) => ({
    split: () => type(cellBeside(block, text.id, 1, 0)) || true,
    joinBefore: () => false,
    joinAfter: () => false,
    tab: (back: boolean) => type(cellBeside(block, text.id, 0, back ? -1 : 1)) || ((proof.editing = null), true),
    equation: (at: number, until: number) => {
      proof.selected = block.id;
      proof.queries.current = null;
      proof.editing = null;
      if (!proof.readOnly) proof.equation = { block: text.id, at, until };
      return true;
    },
    leave: (direction: -1 | 0 | 1) => {
      if (direction === 0) proof.editing = null;
      else if (!type(cellBeside(block, text.id, direction, 0))) void step(direction, direction > 0 ? 0 : -1);
      return true;
    },
  });

  function reopen() {
    const now = proof.block(block.id);
    if (proof.selected === block.id && now?.type === 'table' && open) proof.editing = { at: -1, text: open };
    else proof.editing = null;
  }

  function after(action: () => unknown) {
    live?.flush();
    action();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex: a wide table is scrolled with the keys too -->
<div class="wide" tabindex="0" role="region" aria-label="Table of {rows.length} rows, {block.widths.length} columns">
  <table class:long class:ruled={block.ruled ?? true} style:margin-inline={block.align === 'center' ? 'auto' : block.align === 'right' ? 'auto 0' : '0 auto'}>
    <colgroup>{#each block.widths as width, n (n)}<col style:width="{(100 * width) / total}%" />{/each}</colgroup>
    {#each stretches as stretch, n (stretch.start)}
      <tbody use:watch={n}>
        {#if isDrawn(n, stretch)}
          {#each rows.slice(stretch.start, stretch.end) as cells, k (k)}
            {@const row = stretch.start + k}
            <tr class:header={row < (block.header_rows ?? 0)}>
              {#each cells as cell (cell.column)}
                <td colspan={cell.columns ?? 1} rowspan={cell.rows ?? 1} class:open={cell.texts.some((text) => text.id === open)}>
                  {#each cell.texts as text (text.id)}
                    <div class="cell" style={textLook(styleOf(text), body, Math.min(scale, 1.25), text.align)}>
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
  <RowTools {proof} {block} {place} flush={() => live?.flush()}>
    {#if inHand}
      <button onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('bold')} title="Bold (Ctrl B)"><b>Bold</b></button>
      <button onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('italic')} title="Italic (Ctrl I)"><i>Italic</i></button>
      <select
        aria-label="Alignment in the cell"
        value={inHand.align ?? styleOf(inHand)?.align ?? 'left'}
        onchange={(event) => after(() => setAlign(proof, inHand, event.currentTarget.value as 'left'))}
      >
        {#each ALIGNMENTS.filter((one) => one.value !== 'justify') as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
      </select>
    {:else}
      <button onclick={() => type(firstText(block))} title="Type in its first cell (Enter)">Type in it</button>
    {/if}
    <label
      >Rows of its header <select
        value={block.header_rows ?? 0}
        onchange={(event) => after(() => proof.send({ op: 'header_rows', block: block.id, rows: Number(event.currentTarget.value) }))}
      >
        {#each { length: Math.min(rows.length, 6) } as _, n (n)}<option value={n}>{n}</option>{/each}
      </select></label
    >
    <select
      aria-label="Alignment of the table"
      value={block.align ?? 'left'}
      onchange={(event) => after(() => setAlign(proof, block, event.currentTarget.value as 'left'))}
    >
      {#each ALIGNMENTS.filter((one) => one.value !== 'justify') as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
    </select>
    <button onclick={() => after(() => tableToRows(proof, block))} title="Rows of text, cells apart by tabs (Y)">No table</button>
    <button onclick={() => after(() => insertBelow(proof, block))} title="New paragraph below (N)">New below</button>
  </RowTools>
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
    min-width: 60%;
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
    border: 1px solid #b9ae97;
  }
  .header td {
    background: var(--paper);
  }
  .open {
    outline: 2px solid var(--verdigris);
    outline-offset: -1px;
  }
  .cell {
    display: flex;
    line-height: 1.4;
  }
  .text {
    flex: 1;
    min-width: 0.5em;
    min-height: 1.4em;
    cursor: text;
    white-space: pre-wrap;
  }
</style>
