/** Keys on a selected row that is not open for typing. None of them acts in a field. */
import { equationIn, isTable, isText, KINDS } from '../shared/blocks';
import type { Proof } from '../state/proof.svelte';
import { insertBelow, joinRows, joinWithNext, moveRows, openEquation, readAsEquation, rowsToTable, setAside, setKind, setLevel, tableToRows } from './rowActions';
import { isKeptAhead } from './keysAhead';
import { firstText } from './tables';

type Step = (by: number, caret: number | null) => Promise<boolean>;

/** Rows that Page Up and Page Down go by. */
const PAGE = 10;

export function pressedOnRow(event: KeyboardEvent, proof: Proof, step: Step): void {
  const target = event.target as HTMLElement;
  // The key that parted a text or closed it comes here as well, when its editor has gone.
  if (event.defaultPrevented || proof.editing || proof.equationInHand || proof.queries.current || target.closest('input, textarea, select, [contenteditable="true"], [role="dialog"], button:not(.gutter), a, summary')) return;
  if (proof.keysAhead !== null) {
    if (isKeptAhead(event)) proof.keysAhead.push(event.key);
    event.preventDefault();
    return;
  }
  if (act(event, proof, step)) event.preventDefault();
}

function act(event: KeyboardEvent, proof: Proof, step: Step): boolean {
  if (event.ctrlKey || event.metaKey) return false;
  const block = proof.block(proof.selected);
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    const by = event.key === 'ArrowDown' ? 1 : -1;
    if (event.altKey) {
      if (block && !proof.readOnly) moveRows(proof, proof.inHand, by);
    } else if (block && event.shiftKey) proof.markOn(by);
    else if (block) {
      proof.unmark();
      void step(by, null);
    }
    else if (proof.blocks[0]) proof.selected = proof.blocks[0].id;
    return true;
  }
  const far = { Home: -proof.total, End: proof.total, PageUp: -PAGE, PageDown: PAGE }[event.key];
  if (far !== undefined && !event.altKey) {
    proof.unmark();
    void step(far, null);
    return true;
  }
  if (!block || proof.readOnly || event.altKey) return false;
  const key = event.key.toLowerCase();
  if (key === 'escape' && proof.marked.size) proof.unmark();
  else if (key === 'x') setAside(proof, proof.inHand);
  else if (proof.marked.size && key === 'j') joinRows(proof, proof.inHand);
  else if (key === 'n') insertBelow(proof, block);
  else if (key === 'y') {
    if (isTable(block)) tableToRows(proof, block);
    else rowsToTable(proof, proof.inHand);
  } else if (isTable(block) && key === 'enter') proof.editing = block.excluded ? null : { at: -1, text: firstText(block)?.id };
  else if (key === 'f' && event.shiftKey) void readAsEquation(proof, block);
  else if (!isText(block)) return false;
  else if (key === 'enter') proof.editing = block.excluded ? null : { at: -1 };
  else if (key === 'f' && equationIn(block) >= 0) openEquation(proof, block.id, equationIn(block));
  else if (key === 'j') joinWithNext(proof, block);
  else if (key === ']') setLevel(proof, proof.inHand, 1);
  else if (key === '[') setLevel(proof, proof.inHand, -1);
  else {
    const kind = KINDS.find((one) => one.key === key);
    if (!kind) return false;
    setKind(proof, proof.inHand, kind);
  }
  return true;
}
