import { describe, expect, it } from 'vitest';
import type { Cell, TableBlock } from '../src/api/client';
import { areaOfBoth, cellAt, cellLook, cellsOfText, isWithin } from '../src/desk/tables';

describe('what is pasted into a table', () => {
  it('is cells where it has tabs, and text of one cell where it has none', () => {
    expect(cellsOfText('North pier\t2.31\nFerry slip\t0.87\n')).toEqual([
      ['North pier', '2.31'],
      ['Ferry slip', '0.87'],
    ]);
    expect(cellsOfText('two\nlines')).toBeNull();
  });

  it('has line ends within quotes, and empty cells', () => {
    expect(cellsOfText('"two\nlines"\t"said ""so"""\n\tb\t')).toEqual([
      ['two\nlines', 'said "so"'],
      ['', 'b', ''],
    ]);
    expect(cellsOfText('5" pipe\t2')).toEqual([['5" pipe', '2']]);
  });
});

describe('places in a table', () => {
  const cell = (row: number, column: number, more = {}) => ({ id: `${row}.${column}`, row, column, texts: [], ...more });
  const table = {
    id: 't',
    widths: [10, 10, 10],
    row_ids: ['a', 'b'],
    cells: [cell(0, 0), cell(0, 1, { columns: 2 }), cell(1, 0), cell(1, 1), cell(1, 2)],
  } as unknown as TableBlock;

  it('are found within merged cells, and beyond the end the last', () => {
    expect(cellAt(table, 0, 2)?.id).toBe('0.1');
    expect(cellAt(table, 7, 7)?.id).toBe('1.2');
  });

  it('make the smallest area that has both cells', () => {
    const area = areaOfBoth(table.cells[2]!, table.cells[1]!);
    expect(area).toEqual({ row: 0, column: 0, rows: 2, columns: 3 });
    expect(table.cells.every((one) => isWithin(one, area))).toBe(true);
    expect(isWithin(table.cells[2]!, areaOfBoth(table.cells[4]!, table.cells[4]!))).toBe(false);
  });
});

describe('the look of a cell', () => {
  const cell = { id: 'c', row: 0, column: 0, texts: [] } as unknown as Cell;

  it('is that of its table where it says nothing', () => {
    expect(cellLook(cell)).toBeNull();
  });

  it('has the lines and the ground that it names', () => {
    const look = cellLook({ ...cell, sides: 5, fill: 'e4e0d8' });
    expect(look).toBe('background: #e4e0d8; border-top: 1px solid var(--cell-line); border-right: none; border-bottom: 1px solid var(--cell-line); border-left: none');
  });
});
