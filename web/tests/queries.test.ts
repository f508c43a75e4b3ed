import { beforeEach, expect, test, vi } from 'vitest';
import type { Change, PlacedQuery } from '../src/api/client';
import type { Proof } from '../src/state/proof.svelte';
import { Queries } from '../src/state/queries.svelte';

const query = (id: string, place: number, start: number, text: string, left = false): PlacedQuery => ({
  id,
  place,
  left,
  key: { kind: 'word', text },
  query: { kind: 'word', block: `b${place}`, start, text, typing: 'word', likelihood: 0.5, page: 1, spots: [], reasons: [], choices: [] },
}) as unknown as PlacedQuery;

let answer: (taken: boolean) => void;
const sent: unknown[] = [];
const proof = {
  id: 'd',
  send: (operation: unknown) => {
    sent.push(operation);
    return new Promise((done) => (answer = (taken) => done(taken ? {} : null)));
  },
} as unknown as Proof;

const change = (at: number, removed: number, blocks: number, gone: string[], come: PlacedQuery[] = []) =>
  ({ at, removed, blocks: new Array(blocks).fill({}), gone, queries: come, counts: {} }) as unknown as Change;

let queries: Queries;

beforeEach(() => {
  sent.length = 0;
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify({ queries: queries.list, kinds: [], counts: {} })));
  queries = new Queries(proof);
  queries.list = [query('q1', 0, 4, 'fIoat'), query('q2', 0, 9, 'vvell'), query('q3', 2, 0, 'cIock')];
  queries.current = 'q1';
});

test('a settled query gives way to the next at once, before the server answers', () => {
  queries.settle('float');
  expect(queries.current).toBe('q2');
  queries.settle('well');
  expect(queries.current).toBe('q3');
  expect(sent).toMatchObject([{ op: 'settle', answers: [{ read: 'fIoat', text: 'float' }] }, { op: 'settle', answers: [{ read: 'vvell' }] }]);
});

test('a query that moved with its text stays in hand', () => {
  queries.current = 'q2';
  queries.take(change(0, 1, 1, ['q1', 'q2'], [query('q9', 0, 12, 'vvell')]));
  expect(queries.current).toBe('q9');
  expect(queries.list.map((one) => one.id)).toEqual(['q9', 'q3']);
});

test('queries behind rows that came or went keep their places', () => {
  queries.take(change(0, 1, 3, []));
  expect(queries.list.map((one) => one.place)).toEqual([0, 0, 4]);
});

test('those left for later come when no other is open', () => {
  queries.list = [query('q1', 0, 0, 'a'), query('q2', 1, 0, 'b', true), query('q3', 2, 0, 'c')];
  queries.step(1);
  expect(queries.current).toBe('q3');
  queries.list = queries.list.filter((one) => one.id !== 'q1');
  queries.step(1);
  expect(queries.current).toBe('q2');
});

test('after an answer that was not taken the query is open again', async () => {
  queries.settle('float');
  answer(false);
  await vi.waitFor(() => {
    queries.step(1, null);
    expect(queries.current).toBe('q1');
  });
});

const NU = { type: 'identifier', text: 'ν' };
const V = { type: 'identifier', text: 'v' };
const equation = (tree: unknown) => ({ type: 'equation', tree });
const text = (text: string) => ({ type: 'text', text });

/** A doubt whether a v is a ν: ``content`` is what its row has with the ν in its place. */
const doubted = (id: string, block: string, start: number, content: unknown[]): PlacedQuery =>
  ({
    id,
    place: Number(block.slice(1)),
    left: false,
    key: { kind: 'equation', text: id },
    query: { kind: 'equation', block, start, end: start + 1, text: 'v', likelihood: 0.3, page: 1, fixes: [{ label: '\\nu', operation: { op: 'edit_text', block, content } }] },
  }) as unknown as PlacedQuery;

test('an answer goes for all equal equations as one step, also for two of one row', () => {
  queries.list = [
    doubted('e1', 'b1', 1, [text('a'), equation(NU), text('b'), equation(V)]),
    doubted('e2', 'b1', 3, [text('a'), equation(V), text('b'), equation(NU)]),
    doubted('e3', 'b2', 0, [equation(NU), text('c')]),
    { ...doubted('e4', 'b3', 0, [equation(NU)]), query: { ...doubted('e4', 'b3', 0, [equation(NU)]).query, text: 'w' } },
    query('q1', 4, 0, 'fIoat'),
  ];
  queries.current = 'e2';
  expect(queries.equal.map((one) => one.id)).toEqual(['e2', 'e1', 'e3']);
  queries.fixEqual(NU as never);
  expect(sent).toEqual([
    {
      op: 'together',
      steps: [
        { op: 'edit_text', block: 'b1', content: [text('a'), equation(NU), text('b'), equation(NU)] },
        { op: 'edit_text', block: 'b2', content: [equation(NU), text('c')] },
        { op: 'keep', doubts: ['e2', 'e1', 'e3'].map((id) => ({ kind: 'equation', text: id })) },
      ],
    },
  ]);
  expect(queries.current).toBe('e4');
});

test('equal equations are kept together; words have no equal ones', () => {
  queries.list = [doubted('e1', 'b1', 0, [equation(NU)]), doubted('e2', 'b2', 0, [equation(NU)]), query('q1', 4, 0, 'fIoat')];
  queries.current = 'e1';
  queries.keepEqual();
  expect(sent).toEqual([{ op: 'keep', doubts: [{ kind: 'equation', text: 'e1' }, { kind: 'equation', text: 'e2' }] }]);
  expect(queries.equal.map((one) => one.id)).toEqual(['q1']);
});
