<script lang="ts">
  /** Tools of a table in hand: for its rows, columns and cells, as far as they are marked, and for all of it. */
  import { tableAddress, type Align, type Operation, type TableBlock, type TextBlock } from '../api/client';
  import ActionMenu from '../shared/ActionMenu.svelte';
  import { ALIGNMENTS } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import type { RowEditor } from './editor';
  import { addCaption, drawColumns, insertBelow, setAlign, tableToRows } from './rowActions';
  import RowTools from './RowTools.svelte';
  import { rowCount, type Area } from './tables';

  interface Props {
    proof: Proof;
    block: TableBlock;
    place: number;
    editor: RowEditor | null;
    /** The text in hand, with its alignment, and the marked cells, or the one that it is in. */
    text: TextBlock | undefined;
    textAlign: Align;
    area: Area | null;
    flush: () => void;
    /** Sends what is done to the table, after what was typed. */
    change: (operation: Operation) => void;
    open: () => void;
  }
  let { proof, block, place, editor, text, textAlign, area, flush, change, open }: Props = $props();

  const rows = $derived(rowCount(block));
  const columns = $derived(block.widths.length);
  const places = ALIGNMENTS.filter((one) => one.value !== 'justify');
  const sides: { value: Align; name: string }[] = [...places, { value: 'decimal', name: 'By decimals' }];

  const lists: [string, Extract<Operation, { op: 'list_cells' }>['marks']][] = [
    ['List with signs', 'bullets'],
    ['List with numbers', 'numbers'],
    ['No list', 'none'],
  ];

  const SHADE = 'e4e0d8';

  const lines: [string, Extract<Operation, { op: 'rule_cells' }>['lines']][] = [
    ['Lines around each', 'all'],
    ['Lines around them all', 'around'],
    ['Line above', 'above'],
    ['Line below', 'below'],
    ['No lines', 'none'],
  ];

  const counted = (count: number, one: string) => (count === 1 ? `the ${one}` : `${count} ${one}s`);

  function linesOf(line: 'row' | 'column', at: number, count: number, length: number) {
    const [before, behind, earlier, later] =
      line === 'row' ? ['New row above', 'New row below', 'Move up', 'Move down'] : ['New column before', 'New column behind', 'Move to the left', 'Move to the right'];
    const id = block.id;
    return [
      [
        { name: before, act: () => change({ op: 'insert_lines', block: id, line, at }) },
        { name: behind, act: () => change({ op: 'insert_lines', block: id, line, at: at + count }) },
      ],
      [
        { name: earlier, disabled: at === 0, act: () => change({ op: 'move_lines', block: id, line, at, count, to: at - 1 }) },
        { name: later, disabled: at + count >= length, act: () => change({ op: 'move_lines', block: id, line, at, count, to: at + count + 1 }) },
      ],
      [{ name: `Take ${counted(count, line)} out`, disabled: count >= length, act: () => change({ op: 'remove_lines', block: id, line, at, count }) }],
    ];
  }

  const ofColumns = $derived(
    area && [
      ...linesOf('column', area.column, area.columns, columns),
      sides.map((one) => ({
        name: `Align: ${one.name.toLowerCase()}`,
        act: () => change({ op: 'align_columns', block: block.id, column: area.column, columns: area.columns, align: one.value }),
      })),
    ],
  );

  const ofRows = $derived.by(() => {
    if (!area) return null;
    const end = area.row + area.rows;
    return [
      ...linesOf('row', area.row, area.rows, rows),
      [
        { name: 'Header ends here', disabled: end >= rows, act: () => change({ op: 'header_rows', block: block.id, rows: end }) },
        { name: 'No header', disabled: !block.header_rows, act: () => change({ op: 'header_rows', block: block.id, rows: 0 }) },
        { name: 'New table from here on', disabled: area.row === 0, act: () => change({ op: 'split_table', block: block.id, row: area.row }) },
      ],
    ];
  });

  const ofCells = $derived.by(() => {
    if (!area) return null;
    const merged = (rows: number, columns: number) => () => change({ op: 'merge_cells', block: block.id, row: area.row, column: area.column, rows, columns });
    return [
      [
        { name: 'Merge the marked cells', disabled: area.rows * area.columns === 1, act: merged(area.rows, area.columns) },
        { name: 'Merge with the one beside', disabled: area.column + area.columns >= columns, act: merged(area.rows, area.columns + 1) },
        { name: 'Merge with the one below', disabled: area.row + area.rows >= rows, act: merged(area.rows + 1, area.columns) },
      ],
      lines.map(([name, lines]) => ({ name, act: () => change({ op: 'rule_cells', block: block.id, ...area, lines }) })),
      [
        { name: 'Shade', act: () => change({ op: 'shade_cells', block: block.id, ...area, color: SHADE }) },
        { name: 'No shade', act: () => change({ op: 'shade_cells', block: block.id, ...area, color: '' }) },
      ],
      lists.map(([name, marks]) => ({ name, act: () => change({ op: 'list_cells', block: block.id, ...area, marks }) })),
      text?.numbering
        ? [
            { name: 'Item deeper', act: () => change({ op: 'shift_level', blocks: [text.id], by: 1 }) },
            { name: 'Item less deep', disabled: !text.level, act: () => change({ op: 'shift_level', blocks: [text.id], by: -1 }) },
          ]
        : [],
      [{ name: 'Split the cell', act: () => change({ op: 'split_cell', block: block.id, row: area.row, column: area.column }) }],
      text ? sides.map((one) => ({ name: `Align: ${one.name.toLowerCase()}`, disabled: textAlign === one.value, act: () => after(() => setAlign(proof, text, one.value)) })) : [],
    ];
  });

  const ofTable = $derived([
    [
      { name: 'Join with the table before', act: () => change({ op: 'join_tables', block: block.id, back: true }) },
      { name: 'Join with the table after', act: () => change({ op: 'join_tables', block: block.id, back: false }) },
      { name: 'Rows become columns', act: () => change({ op: 'transpose', block: block.id }) },
      { name: 'Columns by lines on the strip', disabled: !block.spots?.length, act: () => after(() => drawColumns(proof, [block])) },
      { name: 'Take out what is empty', act: () => change({ op: 'remove_empty_lines', block: block.id }) },
    ],
    [
      { name: 'Columns all as wide', act: () => change({ op: 'arrange_columns', block: block.id, by: 'even' }) },
      { name: 'Columns as their text needs', act: () => change({ op: 'arrange_columns', block: block.id, by: 'content' }) },
      { name: "As wide as the page's text", act: () => change({ op: 'arrange_columns', block: block.id, by: 'page' }) },
    ],
    [
      { name: (block.ruled ?? true) ? 'No lines between cells' : 'Lines between cells', act: () => change({ op: 'rule_table', block: block.id, ruled: !(block.ruled ?? true) }) },
      ...places.map((one) => ({ name: `Table to the ${one.name.toLowerCase()}`, act: () => after(() => setAlign(proof, block, one.value)) })),
    ],
    [
      { name: 'Save as XLSX', act: () => location.assign(tableAddress(proof.id, block.id, 'xlsx')) },
      { name: 'Save as CSV', act: () => location.assign(tableAddress(proof.id, block.id, 'csv')) },
      { name: 'Save all tables as XLSX', act: () => location.assign(tableAddress(proof.id, null, 'xlsx')) },
    ],
    [
      { name: 'Rows of text instead', act: () => after(() => tableToRows(proof, block)) },
      { name: 'New caption', act: () => after(() => addCaption(proof, block)) },
      { name: 'New paragraph below', act: () => after(() => insertBelow(proof, block)) },
    ],
  ]);

  function after(action: () => unknown) {
    flush();
    action();
  }
</script>

<RowTools {proof} {block} {place} {flush}>
  {#if text}
    <button onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('bold')} title="Bold (Ctrl B)"><b>Bold</b></button>
    <button onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('italic')} title="Italic (Ctrl I)"><i>Italic</i></button>
  {:else}
    <button onclick={open} title="Type in its first cell (Enter)">Type in it</button>
  {/if}
  {#if ofRows}<ActionMenu label="Rows" groups={ofRows} />{/if}
  {#if ofColumns}<ActionMenu label="Columns" groups={ofColumns} />{/if}
  {#if ofCells}<ActionMenu label="Cells" title="Shift and a click, or Alt Shift and arrows, mark several" groups={ofCells} />{/if}
  <ActionMenu label="Table" groups={ofTable} />
</RowTools>
