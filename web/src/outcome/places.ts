/** What stands where in an outcome. */
import type { OutcomeView, RowPlaces } from '../api/client';

const NEAR = 30; // points that a column's text may stand in from its edge, and rows from one another

/** The row at a place of a page, in points: the one that it is in, or the nearest above it in the same column. */
export function rowAt(rows: readonly RowPlaces[], page: number, x: number, y: number): string | null {
  const begun = rows.filter((row) => row.start.page <= page && row.end.page >= page);
  const top = (row: RowPlaces) => (row.start.page < page ? -Infinity : row.start.y);
  const above = begun.filter((row) => top(row) <= y && (row.start.page < page || row.start.x <= x + NEAR));
  // Of several columns it is the one that begins nearest to the left of the place.
  const column = Math.max(...above.filter((row) => row.start.page === page).map((row) => row.start.x), -Infinity);
  const own = above.filter((row) => row.start.page < page || row.start.x > column - 4 * NEAR);
  return own.reduce<RowPlaces | null>((found, row) => (!found || top(row) >= top(found) ? row : found), null)?.row ?? null;
}

/** By how many pages the end of a page of the source has moved, from -1 or less (earlier) to 1 or more (later); 0 where pages end alike. */
export function drift(outcome: OutcomeView, page: number): number {
  if (page >= outcome.source_pages.length) return outcome.pages.length - outcome.source_pages.length;
  const next = outcome.source_starts.find((start) => start.page > page);
  if (!next) return 0;
  const size = outcome.pages[next.at.page - 1];
  const first = outcome.rows.find((row) => row.start.page === next.at.page);
  const top = Math.min(first?.start.y ?? next.at.y, next.at.y);
  const share = size ? (next.at.y - top) / Math.max(size.height - 2 * top, 1) : 0;
  return next.at.page - 1 + Math.min(share, 1) - (next.page - 1);
}

/** The page of the source whose text stands first on a page of the outcome. */
export function sourcePageOf(outcome: OutcomeView, page: number): number {
  const first = outcome.rows.find((row) => row.start.page === page);
  let found = 1;
  for (const start of outcome.source_starts) {
    if (start.at.page < page || (start.at.page === page && first && start.at.y <= first.start.y + 1)) found = start.page;
  }
  return Math.min(found, Math.max(outcome.source_pages.length, 1));
}

/** The page of the outcome on which the text of a page of the source begins. */
export function outcomePageOf(outcome: OutcomeView, page: number): number {
  return outcome.source_starts.findLast((start) => start.page <= page)?.at.page ?? 1;
}
