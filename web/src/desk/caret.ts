import { OBJECT } from '../shared/blocks';

/** Characters before the place that was clicked, within plainly drawn runs; -1 (the end) beyond the text. */
export function caretOffset(root: HTMLElement, event: MouseEvent): number {
  const position = document.caretPositionFromPoint?.(event.clientX, event.clientY);
  if (!position || !root.contains(position.offsetNode)) return -1;
  const before = document.createRange();
  before.selectNodeContents(root);
  before.setEnd(position.offsetNode, position.offset);
  const text = before.cloneContents();
  // What is no text takes one character, however it is drawn.
  for (const one of text.querySelectorAll('.equation, img')) one.replaceWith(OBJECT);
  return (text.textContent ?? '').length;
}
