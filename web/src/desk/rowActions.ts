/** What can be done to a row, as operations. The row's tools and the keys both come here. */
import { api, type Align, type Block, type TextBlock } from '../api/client';
import { isOrdered, isText, levelOf, newId, roleOf, textOf, type Kind } from '../shared/blocks';
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';

export function setKind(proof: Proof, block: TextBlock, kind: Kind, level: number) {
  void proof.send({ op: 'set_kind', block: block.id, role: kind.role, level, ordered: kind.ordered });
}

/** Deeper or less deep, for headings and list items. */
export function setLevel(proof: Proof, block: TextBlock, by: -1 | 1) {
  const role = roleOf(block);
  const level = levelOf(block) + by;
  if ((role === 'heading' && level >= 1 && level <= 9) || (role === 'list_item' && level >= 0 && level <= 8))
    void proof.send({ op: 'set_kind', block: block.id, role, level, ordered: isOrdered(block) });
}

export function setAlign(proof: Proof, block: Block, align: Align) {
  void proof.send({ op: 'align', block: block.id, align });
}

export function setAside(proof: Proof, block: Block) {
  proof.editing = null;
  void proof.send({ op: 'set_aside', block: block.id, aside: !block.aside });
}

export function moveRow(proof: Proof, block: Block, by: -1 | 1) {
  const place = proof.place(block.id);
  const before = by < 0 ? proof.blocks[place - 1] : proof.blocks[place + 2];
  if ((by < 0 && place === 0) || (by > 0 && place >= proof.total - 1)) return;
  if (!before && place + 2 < proof.total) return; // not loaded yet
  void proof.send({ op: 'move', block: block.id, before: before?.id ?? null });
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
    if (block.aside || (isText(block) && roleOf(block) === 'note')) continue;
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
