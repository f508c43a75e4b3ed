/** What rows say of blocks: names of kinds, signs for the gutter, texts. */
import type { Align, Block, PictureBlock, Role, Run, TableBlock, TextBlock } from '../api/client';

export const BOLD = 1;
export const ITALIC = 2;
export const UNDERLINE = 4;
export const STRIKE = 8;
export const SUPER = 16;
export const SUB = 32;
export const RUN_IN = 64;

export const isText = (block: Block): block is TextBlock => block.type === 'text';
export const isPicture = (block: Block): block is PictureBlock => block.type === 'picture';
export const isTable = (block: Block): block is TableBlock => block.type === 'table';
export const textOf = (runs: readonly Run[] | undefined) => (runs ?? []).map((run) => run.text).join('');
/** The text of a table as it is read again: a line for each row, cells apart by tabs. */
export function tableText(table: TableBlock): string {
  const rows: string[] = [];
  for (const cell of table.cells) {
    const text = cell.texts.map((one) => textOf(one.runs)).join(' ');
    rows[cell.row] = rows[cell.row] === undefined ? text : `${rows[cell.row]}\t${text}`;
  }
  return rows.join('\n');
}
export const roleOf = (block: TextBlock): Role => block.role ?? 'paragraph';
/** Whether a row is a note, which stands apart from the text that runs on. */
export const isNote = (block: Block) => isText(block) && ['note', 'endnote'].includes(roleOf(block));
export const levelOf = (block: TextBlock) => block.level ?? 0;
export const isOrdered = (block: TextBlock) => (block.numbering?.format ?? 'bullet') !== 'bullet';

/** The kinds that a text row can be given, with the key that does it on a selected row. */
export interface Kind {
  name: string;
  key: string;
  role: Role;
  level: number;
  ordered: boolean;
}
export const KINDS: readonly Kind[] = [
  { name: 'Paragraph', key: 'p', role: 'paragraph', level: 0, ordered: false },
  { name: 'Heading', key: 'h', role: 'heading', level: 1, ordered: false },
  { name: 'List item', key: 'l', role: 'list_item', level: 0, ordered: false },
  { name: 'Numbered item', key: 'o', role: 'list_item', level: 0, ordered: true },
  { name: 'Note', key: 't', role: 'note', level: 0, ordered: false },
  { name: 'Endnote', key: 'b', role: 'endnote', level: 0, ordered: false },
  { name: 'Caption', key: 'c', role: 'caption', level: 0, ordered: false },
  { name: 'Quotation', key: 'k', role: 'quote', level: 0, ordered: false },
  { name: 'Verse', key: 'r', role: 'verse', level: 0, ordered: false },
  { name: 'Code', key: 'd', role: 'code', level: 0, ordered: false },
  { name: 'Term', key: 'w', role: 'term', level: 0, ordered: false },
  { name: 'Definition', key: 'a', role: 'definition', level: 0, ordered: false },
  { name: 'Contents entry', key: 'm', role: 'contents', level: 1, ordered: false },
];

export const ALIGNMENTS: readonly { value: Align; name: string }[] = [
  { value: 'left', name: 'Left' },
  { value: 'center', name: 'Middle' },
  { value: 'right', name: 'Right' },
  { value: 'justify', name: 'Both edges' },
];

export function kindOf(block: TextBlock): Kind {
  const role = roleOf(block);
  return KINDS.find((kind) => kind.role === role && (role !== 'list_item' || kind.ordered === isOrdered(block)))!;
}

const PICTURES: Record<string, string> = {
  page: 'Page kept as a picture',
  stamp: 'Stamp',
  watermark: 'Watermark',
  signature: 'Signature',
  handwriting: 'Handwriting',
  equation: 'Equation, kept as a picture',
};

/** The picture of handwriting, or the text that was read from one. */
export const isHandwriting = (block: Block) =>
  isPicture(block) ? block.note === 'handwriting' : isText(block) && block.style === 'Handwriting';

/** The sign in the gutter. */
export function signOf(block: Block): string {
  if (isHandwriting(block)) return '✎';
  if (isPicture(block)) return '▣';
  if (isTable(block)) return '▦';
  const role = roleOf(block);
  if (role === 'heading') return `H${levelOf(block)}`;
  if (role === 'list_item') return isOrdered(block) ? '1.' : '•';
  return SIGNS[role] ?? '¶';
}

const SIGNS: Partial<Record<Role, string>> = {
  note: '※', endnote: '⁂', caption: '▭', quote: '❝', verse: '≋', code: '{ }', term: '≔', definition: '⇥', contents: '☰',
};

/** The levels that rows of a kind may have; null where the kind has none. */
export const LEVELS: Partial<Record<Role, readonly [number, number]>> = { heading: [1, 9], list_item: [0, 8], contents: [1, 9] };

/** How surely the words of a row were read, in per cent; null for text that was not recognised. */
export function sureness(block: Block): number | null {
  const texts = isText(block) ? [block] : isTable(block) ? block.cells.flatMap((cell) => cell.texts) : [];
  const words = texts.flatMap((text) => text.words ?? []);
  let sum = 0;
  let recognised = false;
  for (const word of words) {
    const sure = (word as unknown as [number, number, number, unknown, number?])[4] ?? 1;
    recognised ||= sure < 1;
    sum += sure;
  }
  return recognised ? Math.round((100 * sum) / words.length) : null;
}

/** The kind in words. */
export function kindName(block: Block): string {
  if (isPicture(block)) return PICTURES[block.note ?? ''] ?? 'Picture';
  if (isTable(block)) return 'Table';
  if (isHandwriting(block)) return 'Text read from handwriting';
  const kind = kindOf(block);
  if (kind.role === 'heading') return `Heading, level ${levelOf(block)}`;
  if (kind.role === 'contents') return `Contents entry, level ${levelOf(block)}`;
  if (kind.role === 'list_item' && levelOf(block)) return `${kind.name}, depth ${levelOf(block) + 1}`;
  return kind.name;
}

/** Which list marks to show: numbers counted within each list, as the delivered document counts them. */
export function listMark(blocks: readonly (Block | undefined)[], place: number): string {
  const block = blocks[place];
  if (!block || !isText(block) || roleOf(block) !== 'list_item') return '';
  const numbering = block.numbering;
  if (!isOrdered(block)) return numbering?.pattern ?? '•';
  // The last place in the pattern is the item's own number; those before it are of the levels above.
  const pieces = (numbering?.pattern ?? '%.').split('%');
  let text = pieces.pop()!;
  for (let at = place; pieces.length; at = itemAbove(blocks, at)) text = pieces.pop()! + numberOf(blocks, at) + text;
  return text;
}

/** The number of an item, counted from where its list begins; a question mark where that is not loaded. */
function numberOf(blocks: readonly (Block | undefined)[], place: number): string {
  const block = blocks[place];
  if (!block || !isText(block)) return '?';
  const numbering = block.numbering;
  let number = numbering?.start ?? null;
  let steps = 0;
  for (let i = place - 1; number === null && i >= 0; i--) {
    const other = blocks[i];
    if (!other) break;
    if (!isText(other) || other.aside) continue;
    if (roleOf(other) !== 'list_item') continue;
    if (levelOf(other) < levelOf(block)) break;
    if (levelOf(other) > levelOf(block) || !isOrdered(other)) continue;
    steps++;
    if (typeof other.numbering?.start === 'number') number = other.numbering.start;
  }
  return numberText((number ?? 1) + steps, numbering?.format ?? 'decimal');
}

/** The place of the item that an item stands under, -1 where there is none. */
function itemAbove(blocks: readonly (Block | undefined)[], place: number): number {
  const block = blocks[place];
  if (!block || !isText(block)) return -1;
  for (let i = place - 1; i >= 0; i--) {
    const other = blocks[i];
    if (!other) break;
    if (isText(other) && !other.aside && roleOf(other) === 'list_item' && levelOf(other) < levelOf(block)) return i;
  }
  return -1;
}

function numberText(number: number, format: string): string {
  if (format === 'lower_letter') return String.fromCharCode(96 + ((number - 1) % 26) + 1);
  if (format === 'upper_letter') return String.fromCharCode(64 + ((number - 1) % 26) + 1);
  if (format === 'lower_roman') return roman(number);
  if (format === 'upper_roman') return roman(number).toUpperCase();
  return String(number);
}

const ROMAN: readonly [number, string][] = [
  [100, 'c'], [90, 'xc'], [50, 'l'], [40, 'xl'], [10, 'x'], [9, 'ix'], [5, 'v'], [4, 'iv'], [1, 'i'],
];

function roman(number: number): string {
  let out = '';
  for (const [value, letters] of ROMAN) for (; number >= value; number -= value) out += letters;
  return out;
}

/** A name for a new row that no other row has. */
export const newId = () => 'n' + Array.from(crypto.getRandomValues(new Uint8Array(8)), (n) => n.toString(16).padStart(2, '0')).join('');
