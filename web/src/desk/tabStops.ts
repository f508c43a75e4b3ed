/** Tabs as they will be written: what follows one stands at its stop, and dots lead to it where they are to. */
import type { TabStop } from '../api/client';

const USUAL = 2; // ems of a tab that has no stop
const LEAST = 4; // pixels that a tab takes at least
const NARROW = 0.98; // share of the row that its stops may take

/** Pixels for each point of a row's text: as large as its letters, and so that its last stop is within it. */
export function pixelsPerPoint(text: HTMLElement, stops: readonly TabStop[]): number {
  const letters = parseFloat(getComputedStyle(text).getPropertyValue('--point')) || 1;
  const last = Math.max(0, ...stops.map((stop) => stop.at));
  return last ? Math.min(letters, (NARROW * text.clientWidth) / last) : letters;
}

/** How wide what stands between a tab and the next one, or the end of its line, is. */
function widthBehind(tab: HTMLElement, tabs: readonly HTMLElement[], text: HTMLElement): number {
  const range = document.createRange();
  range.setStartAfter(tab);
  const next = tabs.find((one) => tab.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING);
  if (next) range.setEndBefore(next);
  else range.setEndAfter(text.lastChild ?? text);
  const [first] = range.getClientRects();
  return first ? range.getBoundingClientRect().width : 0;
}

/** Makes the tabs of a row as wide as its stops say. */
function lay(text: HTMLElement, stops: readonly TabStop[]) {
  const tabs = [...text.querySelectorAll<HTMLElement>('.tab')];
  if (!tabs.length) return;
  const points = pixelsPerPoint(text, stops);
  for (const tab of tabs) tab.style.width = `${USUAL}em`;
  const left = text.getBoundingClientRect().left;
  for (const tab of tabs) {
    const at = tab.getBoundingClientRect().left - left;
    const stop = stops.find((one) => one.at * points > at + LEAST);
    tab.classList.toggle('led', !!stop?.leader);
    if (!stop) continue;
    const behind = stop.align === 'right' ? widthBehind(tab, tabs, text) : stop.align === 'center' ? widthBehind(tab, tabs, text) / 2 : 0;
    tab.style.width = `${Math.max(stop.at * points - at - behind, LEAST)}px`;
  }
}

/** Keeps the tabs of an element at their stops, while it is typed in and when its width changes. */
export function tabbed(text: HTMLElement, stops: readonly TabStop[]) {
  const again = () => lay(text, stops);
  const changes = new MutationObserver(again);
  const sizes = new ResizeObserver(again);
  changes.observe(text, { childList: true, characterData: true, subtree: true });
  sizes.observe(text);
  again();
  return {
    update(changed: readonly TabStop[]) {
      stops = changed;
      again();
    },
    destroy() {
      changes.disconnect();
      sizes.disconnect();
    },
  };
}
