/** What rows say of blocks: names of kinds, signs for the gutter, texts. */
import type { Align, Block, Equation, Inline, PictureBlock, Role, TableBlock, TextBlock } from '../api/client';

export const BOLD = 1;
export const ITALIC = 2;
export const UNDERLINE = 4;
export const STRIKE = 8;
export const SUPER = 16;
export const SUB = 32;
export const RUN_IN = 64;
export const SMALL_CAPITALS = 128;

export const isText = (block: Block): block is TextBlock => block.type === 'text';
export const isPicture = (block: Block): block is PictureBlock => block.type === 'picture';
export const isTable = (block: Block): block is TableBlock => block.type === 'table';
/** Stands in plain text for what is neither text nor white space, as on the server. */
export const OBJECT = '\ufffc';
/** The plain text of an element: its own, or one character. */
export const plainOf = (item: Inline): string =>
  item.type === 'text' ? item.text : item.type === 'tab' ? '\t' : item.type === 'break' ? '\n' : OBJECT;
/** The plain text of content: places in it are those of the server. */
export const textOf = (content: readonly Inline[] | undefined) => (content ?? []).map(plainOf).join('');
/** The text as it reads: with the marks of notes as they are printed. */
export const readable = (content: readonly Inline[] | undefined) =>
  (content ?? []).map((item) => (item.type === 'note' ? (item.mark ?? '') : ['field', 'picture', 'equation'].includes(item.type) ? '' : plainOf(item))).join('');
/** The text of a table as it is read again: a line for each row, cells apart by tabs. */
export function tableText(table: TableBlock): string {
  const rows: string[] = [];
  for (const cell of table.cells) {
    const text = cell.texts.map((one) => readable(one.content)).join(' ');
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
  { name: 'Equation', key: 'z', role: 'equation', level: 0, ordered: false },
  { name: 'Contents entry', key: 'm', role: 'contents', level: 1, ordered: false },
];

/** The bits of the sides that have a line, above and below a row, as the model has them. */
export const ABOVE = 1;
export const BELOW = 4;

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
  note: '※', endnote: '⁂', caption: '▭', quote: '❝', verse: '≋', code: '{ }', term: '≔', definition: '⇥', contents: '☰', equation: 'Σ',
};

/** The place of the first equation in a row's plain text, -1 where it has none. */
export function equationIn(block: TextBlock): number {
  let at = 0;
  for (const item of block.content ?? []) {
    if (item.type === 'equation') return at;
    at += plainOf(item).length;
  }
  return -1;
}

/** The equation at a place in the plain text of some content, null where something else stands. */
export function equationAt(content: readonly Inline[], place: number): Equation | null {
  let at = 0;
  for (const item of content) {
    if (at === place) return item.type === 'equation' ? item : null;
    at += plainOf(item).length;
  }
  return null;
}

/** The content with another tree for the equation at a place. */
export function withEquation(content: readonly Inline[], place: number, tree: Equation['tree']): Inline[] {
  const standing = equationAt(content, place);
  return content.map((item) => (item === standing ? { ...standing, tree } : item));
}

/** The kinds that have levels. */
export const LEVELED: ReadonlySet<Role> = new Set(['heading', 'list_item', 'contents']);

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
