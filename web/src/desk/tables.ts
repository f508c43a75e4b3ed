/** Finding one's way in a table. */
import type { Cell, TableBlock, TextBlock } from '../api/client';

export const rowCount = (table: TableBlock) => Math.max(0, ...table.cells.map((cell) => cell.row + (cell.rows ?? 1)));

/** The cells by the row that they begin in. */
export function cellsByRow(table: TableBlock): Cell[][] {
  const rows: Cell[][] = Array.from({ length: rowCount(table) }, () => []);
  for (const cell of table.cells) rows[cell.row]!.push(cell);
  return rows;
}

const STRETCH = 40; // rows

/** The rows in stretches that can be drawn one without the other: no cell reaches from one into the next. */
export function stretchesOf(table: TableBlock): { start: number; end: number }[] {
  const count = rowCount(table);
  const joined = new Set<number>();
  for (const cell of table.cells) for (let row = cell.row + 1; row < cell.row + (cell.rows ?? 1); row++) joined.add(row);
  const out: { start: number; end: number }[] = [];
  for (let start = 0, end; start < count; start = end) {
    end = Math.min(start + STRETCH, count);
    while (end < count && joined.has(end)) end++;
    out.push({ start, end });
  }
  return out;
}

export const firstText = (table: TableBlock): TextBlock | undefined => table.cells[0]?.texts[0];

/** The text below or above, or beside: the next or previous one of all texts in their order. */
export function cellBeside(table: TableBlock, id: string, down: -1 | 0 | 1, along: -1 | 0 | 1): TextBlock | undefined {
  const texts = table.cells.flatMap((cell) => cell.texts.map((text) => ({ cell, text })));
  const at = texts.findIndex(({ text }) => text.id === id);
  if (at < 0) return undefined;
  if (!down) return texts[at + along]?.text;
  const { cell } = texts[at]!;
  const beside = texts[at + down];
  if (beside?.cell === cell) return beside.text;
  const row = down > 0 ? cell.row + (cell.rows ?? 1) : cell.row - 1;
  const there = table.cells.find(
    (one) =>
      one.row <= row && row < one.row + (one.rows ?? 1) && one.column <= cell.column && cell.column < one.column + (one.columns ?? 1),
  );
  return down > 0 ? there?.texts[0] : there?.texts.at(-1);
}

/** The text below another one in its cell. */
export function besideInCell(table: TableBlock, id: string): TextBlock | undefined {
  const texts = cellOf(table, id)?.texts ?? [];
  return texts[texts.findIndex((text) => text.id === id) + 1];
}

/** A rectangle of places in a table, from 0. */
export interface Area {
  row: number;
  column: number;
  rows: number;
  columns: number;
}

export const cellOf = (table: TableBlock, text: string | null | undefined): Cell | undefined =>
  table.cells.find((cell) => cell.texts.some((one) => one.id === text));

/** The places that a cell takes. */
export const areaOf = (cell: Cell): Area => ({ row: cell.row, column: cell.column, rows: cell.rows ?? 1, columns: cell.columns ?? 1 });

/** The smallest area with two cells in it. */
export function areaOfBoth(one: Cell, other: Cell): Area {
  const [a, b] = [areaOf(one), areaOf(other)];
  const [row, column] = [Math.min(a.row, b.row), Math.min(a.column, b.column)];
  return {
    row,
    column,
    rows: Math.max(a.row + a.rows, b.row + b.rows) - row,
    columns: Math.max(a.column + a.columns, b.column + b.columns) - column,
  };
}

export const isWithin = (cell: Cell, area: Area) =>
  cell.row >= area.row && cell.row < area.row + area.rows && cell.column >= area.column && cell.column < area.column + area.columns;

/** The cell that takes a place, the nearest one where the table ends before it. */
export function cellAt(table: TableBlock, row: number, column: number): Cell | undefined {
  const [r, c] = [Math.min(row, rowCount(table) - 1), Math.min(column, table.widths.length - 1)];
  return table.cells.find((cell) => cell.row <= r && r < cell.row + (cell.rows ?? 1) && cell.column <= c && c < cell.column + (cell.columns ?? 1));
}

/** What is on the clipboard as rows of cells, null where it is plain text of one cell. */
export function cellsOfText(text: string): string[][] | null {
  if (!text.includes('\t')) return null;
  const cells: string[][] = [[]];
  // A cell with line ends in it stands in quotes, in which quotes are doubled.
  for (const [, quoted, plain, end] of text.replace(/\n+$/, '').matchAll(/(?:"((?:[^"]|"")*)"|([^\t\n]*))(\t|\n|$)/g)) {
    cells.at(-1)!.push(quoted === undefined ? (plain ?? '') : quoted.replaceAll('""', '"'));
    if (end === '\n') cells.push([]);
    if (end === '') break;
  }
  return cells;
}

/** Where the columns of a table end on its page, in points: halfway between the words at either side. */
export function edgesOf(table: TableBlock): number[] {
  const sides = table.widths.map(() => [Infinity, -Infinity] as [number, number]);
  for (const cell of table.cells) {
    if ((cell.columns ?? 1) > 1) continue;
    for (const text of cell.texts) {
      for (const word of text.words ?? []) {
        const [x0, , x1] = (word as unknown as [number, number, number, [number, number, number, number]])[3];
        const side = sides[cell.column]!;
        side[0] = Math.min(side[0], x0);
        side[1] = Math.max(side[1], x1);
      }
    }
  }
  return sides.slice(1).flatMap(([x0], n) => {
    const x1 = sides[n]![1];
    return Number.isFinite(x0) && Number.isFinite(x1) ? [Math.round(((x0 + x1) / 2) * 10) / 10] : [];
  });
}

const SIDES = ['top', 'right', 'bottom', 'left'];

/** What a cell is filled with, and the lines at its sides where they are other than those of its table, as CSS. */
export function cellLook(cell: Cell): string | null {
  const said = cell.fill ? [`background: #${cell.fill}`] : [];
  const sides = cell.sides;
  if (sides != null) said.push(...SIDES.map((side, n) => `border-${side}: ${sides & (1 << n) ? '1px solid var(--cell-line)' : 'none'}`));
  return said.join('; ') || null;
}
