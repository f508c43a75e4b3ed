/** The open document against a small server that keeps rows and a revision, and can be away. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Operation } from '../src/api/client';
import { notices } from '../src/state/notices.svelte';
import { Proof } from '../src/state/proof.svelte';

let news: (document: string) => void = () => undefined;
vi.mock('../src/state/events', () => ({
  subscribe: (listener: (document: string) => void) => {
    news = listener;
    return () => undefined;
  },
}));

const kept = new Map<string, string>();
vi.stubGlobal('localStorage', {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, value: string) => void kept.set(key, value),
  removeItem: (key: string) => void kept.delete(key),
});

class Server {
  revision = 5;
  texts = ['float', 'well', 'clock'];
  away = false;
  busy = '';
  open = 0;
  /** Takes the next change, but the answer is lost. */
  losesAnswer = false;
  asked: string[] = [];

  rows() {
    return this.texts.map((text, n) => ({ type: 'text', id: `b${n}`, role: 'paragraph', content: [{ type: 'text', text }], spots: [] }));
  }

  answer(path: string, body: { revision: number; operation: { block: string; content: { text: string }[] } }): [number, unknown] {
    const document = { id: 'd', revision: this.revision, state: 'to correct', preview: false, busy: this.busy, open_queries: this.open };
    if (path === '/api/documents/d') return [200, { document, total: 3, styles: [], remarks: [], can_undo: false, can_redo: false }];
    if (path.includes('/rows')) return [200, { revision: this.revision, start: 0, total: 3, blocks: this.rows(), pages: [] }];
    if (path.endsWith('/labels')) return [200, { revision: this.revision, labels: {} }];
    if (path.endsWith('/queries')) return [200, { queries: [], kinds: [], counts: { open: this.open } }];
    if (!path.endsWith('/operations')) return [200, []];
    if (body.revision !== this.revision) return [409, { error: 'stale', sentence: 'Another window was faster.' }];
    const at = Number(body.operation.block.slice(1));
    this.texts[at] = body.operation.content[0]!.text;
    this.revision++;
    const block = this.rows()[at];
    return [200, { revision: this.revision, at, removed: 1, blocks: [block], total: 3, gone: [], queries: [], counts: { open: this.open }, labels: {} }];
  }

  fetch = async (path: string, init?: RequestInit): Promise<Response> => {
    this.asked.push(path);
    if (this.away) throw new TypeError('no connection');
    const [status, answer] = this.answer(path, init?.body ? JSON.parse(String(init.body)) : {});
    if (this.losesAnswer && path.endsWith('/operations')) {
      this.losesAnswer = false;
      this.away = true;
      throw new TypeError('the connection broke');
    }
    return new Response(JSON.stringify(answer), { status });
  };
}

const typed = (block: string, text: string): Operation => ({ op: 'edit_text', block, content: [{ type: 'text', text }] });
const said = () => notices.shown.map((notice) => notice.sentence).join(' ');

let server: Server;

async function opened(): Promise<Proof> {
  const proof = new Proof('d');
  await vi.waitFor(() => expect(proof.revision).toBe(server.revision));
  proof.want(0, 3);
  await vi.waitFor(() => expect(proof.block('b2')).toBeDefined());
  return proof;
}

beforeEach(() => {
  vi.useFakeTimers({ shouldAdvanceTime: true, toFake: ['setTimeout', 'clearTimeout'] });
  kept.clear();
  server = new Server();
  vi.stubGlobal('fetch', server.fetch);
  notices.shown.forEach((notice) => notices.dismiss(notice.id));
});

afterEach(() => vi.useRealTimers());

test('quick changes go one after another, each made of what the one before gave', async () => {
  const proof = await opened();
  await Promise.all([proof.send(typed('b0', 'floats')), proof.send(typed('b0', 'floats.')), proof.send(typed('b1', 'wells'))]);
  expect(server.texts).toEqual(['floats.', 'wells', 'clock']);
  expect(proof.revision).toBe(8);
});

test('what was queued behind a conflict is not sent over the other window’s work, and is said', async () => {
  const proof = await opened();
  server.texts[1] = 'well, by the other window';
  server.revision++;
  const answers = await Promise.all([proof.send(typed('b0', 'floats')), proof.send(typed('b1', 'wells'))]);
  expect(answers).toEqual([null, null]);
  expect(server.texts).toEqual(['float', 'well, by the other window', 'clock']);
  expect(said()).toContain('“floats”');
  expect(said()).toContain('“wells”');
  expect(await proof.send(typed('b2', 'clocks'))).not.toBeNull();
});

test('what is typed while the server is away is kept, shown, and sent in its order when it is back', async () => {
  const proof = await opened();
  server.away = true;
  await proof.send(typed('b0', 'floats'));
  await proof.send(typed('b1', 'wells'));
  expect(proof.unsent).toBe(2);
  expect(proof.block('b0')).toMatchObject({ content: [{ text: 'floats' }] });
  expect(kept.size).toBe(1);
  await vi.advanceTimersByTimeAsync(6000);
  expect(proof.unsent).toBe(2);
  server.away = false;
  await vi.advanceTimersByTimeAsync(6000);
  await vi.waitFor(() => expect(proof.unsent).toBe(0));
  expect(server.texts).toEqual(['floats', 'wells', 'clock']);
  expect(kept.size).toBe(0);
});

test('a window that is opened later sends what an earlier one could not', async () => {
  const first = await opened();
  server.away = true;
  await first.send(typed('b0', 'floats'));
  first.close();
  server.away = false;
  await opened();
  await vi.waitFor(() => expect(server.texts[0]).toBe('floats'));
});

test('what the other window changed meanwhile is not overwritten by what waited', async () => {
  const proof = await opened();
  server.away = true;
  await proof.send(typed('b0', 'floats'));
  server.texts[0] = 'raft';
  server.revision++;
  server.away = false;
  await vi.advanceTimersByTimeAsync(3000);
  await vi.waitFor(() => expect(proof.unsent).toBe(0));
  expect(server.texts[0]).toBe('raft');
  expect(said()).toContain('“floats”');
});

test('a change whose answer was lost is not made twice', async () => {
  const proof = await opened();
  server.losesAnswer = true;
  await proof.send(typed('b0', 'floats'));
  expect(proof.unsent).toBe(1);
  server.away = false;
  await vi.advanceTimersByTimeAsync(3000);
  await vi.waitFor(() => expect(proof.unsent).toBe(0));
  expect(server.revision).toBe(6);
  expect(said()).not.toContain('not taken over');
});

test('what is typed while pages are read again is taken, and the rows come when the text is closed', async () => {
  server.busy = 'read again';
  const proof = await opened();
  proof.editing = { at: 0, text: 'b0' };
  server.texts[1] = 'well, as read again';
  server.revision++;
  await proof.send(typed('b0', 'floats'));
  expect(server.texts).toEqual(['floats', 'well, as read again', 'clock']);
  expect(proof.editing).not.toBeNull();
  await proof.send(typed('b0', 'floats.'));
  expect(server.texts[0]).toBe('floats.');
  server.busy = '';
  proof.editing = null;
  proof.catchUp();
  await vi.waitFor(() => {
    proof.want(0, 3);
    expect(proof.block('b1')).toMatchObject({ content: [{ text: 'well, as read again' }] });
  });
});

test('while a text is open, the end of reading again is shown but rows stay; what is typed then is taken too', async () => {
  server.busy = 'read again';
  const proof = await opened();
  proof.editing = { at: 0, text: 'b0' };
  server.texts[1] = 'well, as read again';
  server.revision++;
  server.busy = '';
  news('d');
  await vi.waitFor(() => expect(proof.opened?.document.busy).toBe(''));
  expect(proof.block('b1')).toMatchObject({ content: [{ text: 'well' }] });
  await proof.send(typed('b0', 'floats'));
  expect(server.texts).toEqual(['floats', 'well, as read again', 'clock']);
  expect(said()).toBe('');
});

test('what is typed into a text that was read otherwise meanwhile is said, not sent', async () => {
  server.busy = 'read again';
  const proof = await opened();
  server.texts[0] = 'float, as read again';
  server.revision++;
  await proof.send(typed('b0', 'floats'));
  expect(server.texts[0]).toBe('float, as read again');
  expect(said()).toContain('“floats”');
});

test('doubts that come after a document was opened are fetched, and not while something is being sent', async () => {
  const proof = await opened();
  await vi.waitFor(() => expect(proof.queries.counts?.open).toBe(0));
  server.open = 1;
  news('d');
  await vi.waitFor(() => expect(proof.queries.counts?.open).toBe(1));
  const times = () => server.asked.filter((path) => path.endsWith('/queries')).length;
  const before = times();
  news('d');
  await new Promise((done) => setTimeout(done, 50));
  expect(times()).toBe(before);
  server.open = 2;
  proof.saving++;
  news('d');
  await new Promise((done) => setTimeout(done, 50));
  expect(times()).toBe(before);
});
