/** What can be done to a row, as operations. The row's tools and the keys both come here. */
import { api, type Align, type Block, type Change, type Operation, type Role, type TableBlock, type TextBlock } from '../api/client';
import { isOrdered, isTable, isText, LEVELED, levelOf, roleOf, textOf, type Kind } from '../shared/blocks';
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';
import { edgesOf } from './tables';

type Step = Extract<Operation, { op: 'together' }>['steps'][number];

/** Sends one operation, or several as one step of the history. */
function together(proof: Proof, steps: Step[]): Promise<Change | null> {
  if (!steps.length) return Promise.resolve(null);
  return proof.send(steps.length === 1 ? steps[0]! : { op: 'together', steps });
}

const kindStep = (block: TextBlock, role: Role, level: number, ordered: boolean): Step => ({ op: 'set_kind', block: block.id, role, level, ordered });

export function setKind(proof: Proof, blocks: readonly Block[], kind: Kind) {
  const texts = blocks.filter(isText);
  void together(proof, texts.map((block) => kindStep(block, kind.role, roleOf(block) === kind.role ? levelOf(block) : kind.level, kind.ordered)));
}

/** Deeper or less deep, for what has levels. */
export function setLevel(proof: Proof, blocks: readonly Block[], by: -1 | 1) {
  const leveled = blocks.filter((block) => isText(block) && LEVELED.has(roleOf(block)));
  if (leveled.length) void proof.send({ op: 'shift_level', blocks: leveled.map((block) => block.id), by });
}

export function setAlign(proof: Proof, block: Block, align: Align) {
  void proof.send({ op: 'align', block: block.id, align });
}

/** Draws lines above and below a row of text: those whose bits are set. */
export function setSides(proof: Proof, block: TextBlock, sides: number) {
  void proof.send({ op: 'set_sides', block: block.id, sides });
}

/** Sets rows aside, or brings them back if all of them are aside. */
export function setAside(proof: Proof, blocks: readonly Block[]) {
  proof.editing = null;
  const excluded = !blocks.every((block) => block.excluded);
  void together(proof, blocks.filter((block) => !!block.excluded !== excluded).map((block) => ({ op: 'exclude', block: block.id, excluded })));
}

/** Moves rows that follow one another by one place: the row beside them goes to their other side. */
export function moveRows(proof: Proof, blocks: readonly Block[], by: -1 | 1) {
  const places = blocks.map((block) => proof.place(block.id));
  const [first, last] = [Math.min(...places), Math.max(...places)];
  const beside = proof.blocks[by < 0 ? first - 1 : last + 1];
  if (!beside) return;
  const before = proof.blocks[by < 0 ? last + 1 : first];
  if (!before && last + 1 < proof.total) return; // not loaded yet
  void proof.send({ op: 'move', block: beside.id, before: before?.id ?? null });
}

/** Puts rows before another one. */
export function putBefore(proof: Proof, blocks: readonly Block[], before: Block) {
  if (blocks.some((block) => block.id === before.id)) return;
  void together(proof, blocks.map((block) => ({ op: 'move', block: block.id, before: before.id })));
}

/** Numbers that begin anew at a row, or run on from before. */
export function restartNumbering(proof: Proof, block: TextBlock) {
  void proof.send({ op: 'restart', block: block.id, start: typeof block.numbering?.start === 'number' ? null : 1 });
}

/** Makes one row of text rows that follow one another. */
export function joinRows(proof: Proof, blocks: readonly Block[]) {
  const [first, ...others] = blocks.filter(isText);
  if (!first) return;
  proof.selected = first.id;
  void together(proof, others.map((block) => ({ op: 'join', first: first.id, second: block.id })));
}

/** Makes rows of text of a table, cells apart by tabs. */
export function tableToRows(proof: Proof, block: TableBlock) {
  proof.editing = null;
  void proof.send({ op: 'table_to_rows', block: block.id });
}

/** Makes a table of rows of text, cut into cells at their tabs. */
export function rowsToTable(proof: Proof, blocks: readonly Block[]) {
  proof.editing = null;
  void proof.send({ op: 'rows_to_table', blocks: blocks.map((block) => block.id) }).then((change) => {
    if (change?.focus) proof.selected = change.focus.block;
  });
}

/** Gives rows the same tab stops. */
export function lineUp(proof: Proof, blocks: readonly Block[]) {
  proof.editing = null;
  void proof.send({ op: 'line_up', blocks: blocks.map((block) => block.id) });
}

/** Asks for lines on the strips of some rows, where columns end; those of a table are there already. */
export function drawColumns(proof: Proof, blocks: readonly Block[]) {
  proof.editing = null;
  proof.columnLines = { blocks: blocks.map((block) => block.id), edges: blocks.length === 1 && isTable(blocks[0]!) ? edgesOf(blocks[0]) : [] };
}

/** Cuts rows into columns at the lines that were drawn. */
export function cutAtLines(proof: Proof) {
  const lines = proof.columnLines;
  proof.columnLines = null;
  if (!lines?.edges.length) return;
  void proof.send({ op: 'cut_at_edges', blocks: [...lines.blocks], edges: [...lines.edges] }).then((change) => {
    if (!change) proof.columnLines = lines;
    else if (change.focus) proof.selected = change.focus.block;
  });
}

/** A new empty paragraph below, open for typing. */
export function insertBelow(proof: Proof, block: Block) {
  thenType(proof, proof.send({ op: 'insert', after: block.id, text: '' }));
}

/** A caption for a picture or a table, called as the others are, open for typing behind its number. */
export function addCaption(proof: Proof, block: Block) {
  thenType(proof, proof.send({ op: 'add_caption', block: block.id }));
}

/** Parts the row; typing goes on at the start of the second half. */
export function splitAt(proof: Proof, block: TextBlock, offset: number) {
  thenType(proof, proof.send({ op: 'split', block: block.id, offset }));
}

/** Parts a text in a cell of a table; typing goes on at the start of the second half. */
export function splitInCell(proof: Proof, table: TableBlock, text: TextBlock, offset: number): boolean {
  thenType(proof, proof.send({ op: 'split', block: text.id, offset }), table.id);
  return true;
}

/** Joins a text in a cell with the one below or above it; typing goes on where they meet. */
export function joinInCell(proof: Proof, table: TableBlock, text: TextBlock, back: boolean): boolean {
  thenType(proof, proof.send({ op: 'join_neighbour', block: text.id, back }), table.id);
  return true;
}

/** Joins the row with the one that its text goes on in; which that is, the server knows. */
export function joinWithNext(proof: Proof, block: TextBlock, typing = false): boolean {
  return join(proof, proof.send({ op: 'join_neighbour', block: block.id, back: false }), typing);
}

/** Joins the row with the one that it goes on from; typing goes on where they meet. */
export function joinWithPrevious(proof: Proof, block: TextBlock): boolean {
  return join(proof, proof.send({ op: 'join_neighbour', block: block.id, back: true }), true);
}

function join(proof: Proof, sent: Promise<Change | null>, typing: boolean): boolean {
  if (typing) thenType(proof, sent);
  else void sent.then((change) => change?.focus && (proof.selected = change.focus.block));
  return true;
}

/** Opens the row for typing that the server says the clerk goes on in, or that text of a ``table``. The row in hand closes at once, so
 * that nothing is typed into what is about to change; what is typed meanwhile is kept for the row to come. */
function thenType(proof: Proof, sent: Promise<Change | null>, table: string | null = null) {
  const from = proof.selected;
  proof.editing = null;
  proof.keysAhead = [];
  void sent.then((change) => {
    const focus = change?.focus;
    if (!focus || proof.editing) {
      // Nothing to go on in, or the clerk has gone on elsewhere meanwhile.
      proof.keysAhead = null;
      if (!proof.editing) proof.selected = from;
      return;
    }
    proof.selected = table ?? focus.block;
    proof.editing = { at: focus.offset ?? 0, ...(table && { text: focus.block }) };
  });
}

export type HandwritingAs = 'text' | 'picture' | 'both';

/** Keeps handwriting as text, picture or both: that of this row, or all of the document. */
export function keepHandwriting(proof: Proof, block: Block | null, choice: HandwritingAs) {
  return proof.send({ op: 'handwriting', block: block?.id ?? null, choice });
}

/** Reads the row's places on the page once more; the new words take the place of the old as one step of the history. */
export async function readRowAgain(proof: Proof, block: TextBlock, languages: string[]) {
  try {
    const read = await api.readRowAgain(proof.id, block.id, languages);
    if (!read.text) notices.say('Nothing could be read there; the row stays as it was.');
    else if (read.text === textOf(block.content)) notices.say('It was read the same way again.');
    else await proof.send({ op: 'row_again', block: block.id, read });
  } catch (error) {
    notices.wrong(error);
  }
}

/** Takes the equation at a place of a text in hand. */
export function openEquation(proof: Proof, text: string, at: number) {
  proof.equation = { block: text, at, until: at + 1 };
}

/** Reads the place that a row came from as a displayed equation, and opens it. */
export async function readAsEquation(proof: Proof, block: Block) {
  const [spot] = block.spots ?? [];
  if (!spot) return;
  const [page, box] = spot as unknown as [number, [number, number, number, number]];
  try {
    const there = await api.equationThere(proof.id, page, box);
    if (!there.tree) return notices.say('No equation can be read there; the row stays as it was.');
    const equation = { type: 'equation' as const, tree: there.tree, display: true };
    const change = await proof.send({ op: 'region', block: block.id, place: 0, spot, equation });
    if (change && proof.selected === block.id) openEquation(proof, block.id, 0);
  } catch (error) {
    notices.wrong(error);
  }
}

/** Puts the picture of the place that a row came from in the place of the row. */
export async function makePicture(proof: Proof, block: Block) {
  const [spot] = block.spots ?? [];
  if (!spot) return;
  const [page, box] = spot as unknown as [number, [number, number, number, number]];
  try {
    const picture = await api.cutRegion(proof.id, page, box);
    await proof.send({ op: 'region', block: block.id, place: 0, spot, picture, note: '' });
  } catch (error) {
    notices.wrong(error);
  }
}
