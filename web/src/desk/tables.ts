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
