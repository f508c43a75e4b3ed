import { expect, test } from 'vitest';
import type { Block, ResolvedStyle } from '../src/api/client';
import { dataOf } from '../src/desk/copiedRows';
import { BOLD, ITALIC, SUPER } from '../src/shared/blocks';

const STYLES = [
  { id: 'Body text', name: 'Body text' },
  { id: 'Heading 2', name: 'Heading 2', bold: true },
  { id: 'Loud', name: 'Loud', bold: true },
  { id: 'Unused', name: 'Unused' },
] as ResolvedStyle[];

const BLOCKS = [
  { type: 'text', id: 'h', role: 'heading', level: 2, style: 'Heading 2', content: [{ type: 'text', text: 'Tides' }] },
  {
    type: 'text',
    id: 'p',
    style: 'Loud',
    content: [
      { type: 'text', text: 'Read <all> & ' },
      { type: 'text', text: 'quietly', marks: BOLD | ITALIC },
      { type: 'note', note: 'n', mark: '1', marks: SUPER },
    ],
  },
  { type: 'picture', id: 'q' },
  {
    type: 'table',
    id: 't',
    widths: [90, 60],
    row_ids: ['r', 's'],
    header_rows: 1,
    cells: [
      { id: 'a', row: 0, column: 0, columns: 2, texts: [{ type: 'text', id: '1', style: 'Body text', content: [{ type: 'text', text: 'Gauges' }] }] },
      { id: 'b', row: 1, column: 0, texts: [{ type: 'text', id: '2', style: 'Body text', numbering: {}, content: [{ type: 'text', text: 'North Pier' }] }] },
      { id: 'c', row: 1, column: 1, texts: [{ type: 'text', id: '3', style: 'Body text', content: [{ type: 'text', text: '2.31' }] }] },
    ],
  },
] as unknown as Block[];

test('rows are text for a note, a table for a spreadsheet', () => {
  expect(dataOf(BLOCKS, STYLES, { p: '1.' }).text).toBe('Tides\n1. Read <all> & quietly1\nGauges\nNorth Pier\t2.31');
});

test('rows are HTML with their emphasis, as it looks and not as it differs, and nothing in them is markup', () => {
  expect(dataOf(BLOCKS, STYLES, { p: '1.', 2: '•' }).html).toBe(
    '<h2>Tides</h2><p>1. <b>Read &lt;all&gt; &amp; </b><i>quietly</i><b><sup>1</sup></b></p>' +
      '<table><tr><th colspan="2">Gauges</th></tr><tr><td>• North Pier</td><td>2.31</td></tr></table>',
  );
});

test('rows are what they are for documents here, with the styles that they use and without pictures', () => {
  const copied = JSON.parse(dataOf(BLOCKS, STYLES, {}).rows) as { blocks: Block[]; styles: ResolvedStyle[] };
  expect(copied.blocks.map((block) => block.id)).toEqual(['h', 'p', 't']);
  expect(copied.styles.map((style) => style.id)).toEqual(['Body text', 'Heading 2', 'Loud']);
});
