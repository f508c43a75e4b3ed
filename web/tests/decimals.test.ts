import { describe, expect, it } from 'vitest';
import type { TableBlock } from '../src/api/client';
import { decimalSign, roomBehindDecimals } from '../src/desk/decimals';

describe('decimals of a column', () => {
  it('begin at a sign that is not the one between thousands', () => {
    expect(decimalSign(['12', '3.75', '104.5'])).toBe('.');
    expect(decimalSign(['1.204,50', '7,5'])).toBe(',');
    expect(decimalSign(['1,204', '12,016', '7'])).toBeNull();
    expect(decimalSign(['1.204.016', '2.5'])).toBeNull();
  });

  it('leave room behind those that are shorter, and only behind cells aligned by them', () => {
    const cell = (row: number, column: number, text: string, align?: string) => ({
      id: `${row}.${column}`,
      row,
      column,
      texts: [{ type: 'text', id: text, align, content: [{ type: 'text', text }] }],
    });
    const table = {
      cells: [cell(0, 0, '7.125'), cell(0, 1, '12', 'decimal'), cell(1, 1, '3.75', 'decimal'), cell(2, 1, '104.5', 'decimal')],
    } as unknown as TableBlock;
    expect([...roomBehindDecimals(table)]).toEqual([
      ['12', 'calc(2ch + 0.25em)'],
      ['3.75', 'calc(0ch + 0em)'],
      ['104.5', 'calc(1ch + 0em)'],
    ]);
  });
});
