/** Parts of an equation that is drawn, and the characters of the TeX that each was read from. */

export type Place = readonly [start: number, end: number];

/** The characters that an element was read from, null if it does not say. */
export function placeOf(element: Element): Place | null {
  const [start, end] = (element.getAttribute('data-typed') ?? '').split(':').map(Number);
  return start !== undefined && end !== undefined ? [start, end] : null;
}

const isWithin = (inner: Place, outer: Place) => outer[0] <= inner[0] && inner[1] <= outer[1];
export const isSame = (one: Place, other: Place) => one[0] === other[0] && one[1] === other[1];

/** The parts of a drawing that characters are in, from the smallest to the whole; of several with one place the outermost. */
export function partsAround(view: Element, chosen: Place): { element: Element; place: Place }[] {
  const found = new Map<string, { element: Element; place: Place }>();
  for (const element of view.querySelectorAll('[data-typed]')) {
    const place = placeOf(element);
    if (place && isWithin(chosen, place) && !found.has(place.join())) found.set(place.join(), { element, place });
  }
  return [...found.values()].sort((a, b) => a.place[1] - a.place[0] - (b.place[1] - b.place[0]));
}

/** The part of a drawing that an element belongs to, with its place; null for what says none. */
export function partAt(view: Element, element: Element): { element: Element; place: Place } | null {
  const own = element.closest('[data-typed]');
  const place = own && view.contains(own) ? placeOf(own) : null;
  return own && place ? { element: own, place } : null;
}

/** The place of the next larger part around what is marked; what is marked itself if there is none. */
export function wider(view: Element, marked: Place): Place {
  return partsAround(view, marked).find((part) => !isSame(part.place, marked))?.place ?? marked;
}

/** The place of the first part within what is marked that is smaller; what is marked itself if there is none. */
export function narrower(view: Element, marked: Place): Place {
  const inner = [...view.querySelectorAll('[data-typed]')].map(placeOf).filter((place) => place !== null);
  const smaller = inner.filter((place) => isWithin(place, marked) && !isSame(place, marked));
  return smaller.sort((a, b) => b[1] - b[0] - (a[1] - a[0]) || a[0] - b[0])[0] ?? marked;
}

/** Shows in a drawing which part the marked characters, or those at the caret, are in. */
export function showMarked(view: Element, marked: Place | null): void {
  view.querySelector('.marked-part')?.classList.remove('marked-part');
  if (marked) partsAround(view, marked)[0]?.element.classList.add('marked-part');
}
