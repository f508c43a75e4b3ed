/** Keys that are pressed for a row before it is there: fast fingers do not wait for the server. */

/** Keys besides letters that are kept: they part a text, close it, and take a letter back. */
const KEPT = ['Enter', 'Escape', 'Backspace'];

export function isKeptAhead(event: KeyboardEvent): boolean {
  return !event.ctrlKey && !event.metaKey && !event.altKey && (event.key.length === 1 || KEPT.includes(event.key));
}

/** The text that keys type, and the keys from the first one on that parts or closes it. */
export function textAhead(keys: readonly string[]): [string, string[]] {
  const end = keys.findIndex((key) => key === 'Enter' || key === 'Escape');
  const typed = end < 0 ? keys : keys.slice(0, end);
  const text: string[] = [];
  for (const key of typed) {
    if (key === 'Backspace') text.pop();
    else text.push(key);
  }
  return [text.join(''), end < 0 ? [] : keys.slice(end)];
}

/** Presses a key where the focus is now. */
export function pressAgain(key: string) {
  (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
}
