import { describe, expect, it } from 'vitest';
import type { OutcomeView, RowPlaces } from '../src/api/client';
import { drift, outcomePageOf, rowAt, sourcePageOf } from '../src/outcome/places';

const row = (name: string, x: number, from: [number, number], to: [number, number]): RowPlaces => ({
  row: name,
  place: 0,
  start: { page: from[0], x, y: from[1] },
  end: { page: to[0], x, y: to[1] },
});

describe('the row at a place', () => {
  const rows = [row('a', 50, [1, 60], [1, 90]), row('b', 50, [1, 100], [2, 80]), row('c', 62, [2, 100], [2, 120])];

  it('is the one that the place is in, or the nearest above', () => {
    expect(rowAt(rows, 1, 100, 70)).toBe('a');
    expect(rowAt(rows, 1, 100, 95)).toBe('a');
    expect(rowAt(rows, 1, 100, 400)).toBe('b');
    expect(rowAt(rows, 2, 100, 70)).toBe('b');
    expect(rowAt(rows, 2, 100, 110)).toBe('c');
    expect(rowAt(rows, 1, 100, 20)).toBeNull();
    expect(rowAt(rows, 3, 100, 20)).toBeNull();
  });

  it('keeps to its column', () => {
    const columns = [row('left', 50, [1, 60], [1, 300]), row('left end', 50, [1, 310], [1, 330]), row('right', 310, [1, 60], [1, 330])];
    expect(rowAt(columns, 1, 120, 320)).toBe('left end');
    expect(rowAt(columns, 1, 400, 320)).toBe('right');
  });
});

describe('pages of the source', () => {
  const outcome: OutcomeView = {
    revision: 1,
    way: '',
    pages: [1, 2, 3].map(() => ({ width: 400, height: 600 })),
    source_pages: [1, 2].map(() => ({ width: 400, height: 600 })),
    rows: [row('a', 50, [1, 50], [1, 500]), row('b', 50, [2, 50], [2, 290]), row('c', 50, [2, 300], [3, 120])],
    source_starts: [{ page: 2, row: 'c', at: { page: 2, x: 50, y: 300 } }],
    misfits: [],
    fit: null,
    stand_ins: [],
    seconds: 0.1,
  };

  it('end later where the outcome takes more room', () => {
    expect(drift(outcome, 1)).toBeCloseTo(0.5);
    expect(drift(outcome, 2)).toBe(1);
  });

  it('end alike where the next one begins at the top of a page', () => {
    const alike = { ...outcome, source_starts: [{ page: 2, row: 'b', at: { page: 2, x: 50, y: 50 } }] };
    expect(drift(alike, 1)).toBe(0);
  });

  it('are found from the outcome, and the other way round', () => {
    expect([1, 2, 3].map((page) => sourcePageOf(outcome, page))).toEqual([1, 1, 2]);
    expect([1, 2].map((page) => outcomePageOf(outcome, page))).toEqual([1, 2]);
  });
});
