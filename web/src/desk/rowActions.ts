/** What can be done to a row, as operations. The row's tools and the keys both come here. */
import { api, type Align, type Block, type Operation, type Role, type TableBlock, type TextBlock } from '../api/client';
import { isNote, isOrdered, isText, LEVELS, levelOf, newId, roleOf, textOf, type Kind } from '../shared/blocks';
import { rowCount } from './tables';
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';

type Step = Extract<Operation, { op: 'together' }>['steps'][number];

/** Sends one operation, or several as one step of the history. */
function together(proof: Proof, steps: Step[]): Promise<boolean> {
  if (!steps.length) return Promise.resolve(false);
  return proof.send(steps.length === 1 ? steps[0]! : { op: 'together', steps });
}

const kindStep = (block: TextBlock, role: Role, level: number, ordered: boolean): Step => ({ op: 'set_kind', block: block.id, role, level, ordered });

export function setKind(proof: Proof, blocks: readonly Block[], kind: Kind) {
  const texts = blocks.filter(isText);
  void together(proof, texts.map((block) => kindStep(block, kind.role, roleOf(block) === kind.role ? levelOf(block) : kind.level, kind.ordered)));
}

/** Deeper or less deep, for what has levels. */
export function setLevel(proof: Proof, blocks: readonly Block[], by: -1 | 1) {
  const steps = blocks.filter(isText).flatMap((block) => {
    const bounds = LEVELS[roleOf(block)];
    const level = levelOf(block) + by;
    return bounds && level >= bounds[0] && level <= bounds[1] ? [kindStep(block, roleOf(block), level, isOrdered(block))] : [];
  });
  void together(proof, steps);
}

export function setAlign(proof: Proof, block: Block, align: Align) {
  void proof.send({ op: 'align', block: block.id, align });
}

/** Sets rows aside, or brings them back if all of them are aside. */
export function setAside(proof: Proof, blocks: readonly Block[]) {
  proof.editing = null;
  const aside = !blocks.every((block) => block.aside);
  void together(proof, blocks.filter((block) => !!block.aside !== aside).map((block) => ({ op: 'set_aside', block: block.id, aside })));
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
  const new_ids = Array.from({ length: rowCount(block) - 1 }, newId);
  void proof.send({ op: 'table_to_rows', block: block.id, new_ids });
}

/** Makes a table of rows of text, cut into cells at their tabs. */
export function rowsToTable(proof: Proof, blocks: readonly Block[]) {
  const new_id = newId();
  proof.editing = null;
  void proof
    .send({ op: 'rows_to_table', new_id, blocks: blocks.map((block) => block.id) })
    .then((taken) => taken && (proof.selected = new_id));
}

/** A new empty paragraph below, open for typing. */
export function insertBelow(proof: Proof, block: Block) {
  const id = newId();
  thenType(proof, proof.send({ op: 'insert', new_id: id, after: block.id, text: '' }), id, 0);
}

/** Parts the row; typing goes on at the start of the second half. */
export function splitAt(proof: Proof, block: TextBlock, offset: number) {
  const id = newId();
  thenType(proof, proof.send({ op: 'split', block: block.id, offset, new_id: id }), id, 0);
}

function textNear(proof: Proof, place: number, by: -1 | 1): TextBlock | undefined {
  for (let i = place + by; i >= 0 && i < proof.total; i += by) {
    const block = proof.blocks[i];
    if (!block) return undefined;
    if (block.aside || isNote(block)) continue;
    return isText(block) ? block : undefined;
  }
  return undefined;
}

function join(proof: Proof, first: TextBlock, second: TextBlock, typing: boolean) {
  const text = textOf(first.runs);
  const space = text && textOf(second.runs) && !/[-\u00ad\n]$/.test(text) ? 1 : 0;
  const sent = proof.send({ op: 'join', first: first.id, second: second.id });
  if (typing) thenType(proof, sent, first.id, text.length + space);
  else void sent.then((taken) => taken && (proof.selected = first.id));
}

export function joinWithNext(proof: Proof, block: TextBlock, typing = false): boolean {
  const next = textNear(proof, proof.place(block.id), 1);
  if (next) join(proof, block, next, typing);
  return next !== undefined;
}

export function joinWithPrevious(proof: Proof, block: TextBlock): boolean {
  const previous = textNear(proof, proof.place(block.id), -1);
  if (previous) join(proof, previous, block, true);
  return previous !== undefined;
}

/** Opens a row for typing as soon as it is there. The row in hand closes at once, so that nothing is typed into what is
 * about to change; what is typed meanwhile is kept for the row to come. */
function thenType(proof: Proof, sent: Promise<boolean>, id: string, at: number) {
  proof.editing = null;
  proof.typedAhead = '';
  void sent.then((taken) => {
    if (!taken) {
      proof.typedAhead = null;
      return;
    }
    proof.selected = id;
    proof.editing = { at };
  });
}

export type HandwritingAs = 'text' | 'picture' | 'both';

/** Keeps handwriting as text, picture or both: that of this row, or all of the document. */
export function keepHandwriting(proof: Proof, block: Block | null, choice: HandwritingAs) {
  return proof.send({ op: 'handwriting', block: block?.id ?? null, choice });
}

/** Reads the row's place on the page once more; the new text takes the place of the old as one step of the history. */
export async function readRowAgain(proof: Proof, block: TextBlock, languages: string[]) {
  try {
    const { text } = await api.readRowAgain(proof.id, block.id, languages);
    if (!text) notices.say('Nothing could be read there; the row stays as it was.');
    else if (text === textOf(block.runs)) notices.say('It was read the same way again.');
    else await proof.send({ op: 'edit_text', block: block.id, runs: [{ text }] });
  } catch (error) {
    notices.wrong(error);
  }
}
