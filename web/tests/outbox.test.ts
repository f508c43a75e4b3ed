import { expect, test } from 'vitest';
import type { Operation } from '../src/api/client';
import { Outbox } from '../src/state/outbox';

function storage() {
  const kept = new Map<string, string>();
  return {
    kept,
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  };
}

const typed = (block: string, text: string): Operation => ({ op: 'edit_text', block, content: [{ type: 'text', text }] });

test('what was not sent is there in the next window, in its order', () => {
  const keep = storage();
  const first = new Outbox('report', keep);
  first.add({ revision: 3, operation: typed('b1', 'float') });
  first.add({ revision: 3, operation: { op: 'align', block: 'b2', align: 'right' } });
  const second = new Outbox('report', keep);
  expect(second.size).toBe(2);
  expect(second.shift()?.operation).toEqual(typed('b1', 'float'));
  expect(new Outbox('report', keep).first?.operation.op).toBe('align');
  expect(new Outbox('log', keep).size).toBe(0);
});

test('typing on in one text is one entry, made of what was there at first', () => {
  const outbox = new Outbox('report', storage());
  outbox.add({ revision: 3, operation: typed('b1', 'f'), before: [] });
  outbox.add({ revision: 3, operation: typed('b1', 'float'), before: [{ type: 'text', text: 'f' }] });
  outbox.add({ revision: 3, operation: typed('b2', 'well') });
  outbox.add({ revision: 3, operation: typed('b1', 'floats') });
  expect(outbox.size).toBe(3);
  expect(outbox.first).toEqual({ revision: 3, operation: typed('b1', 'float'), before: [] });
});

test('nothing is left in the browser when all is sent', () => {
  const keep = storage();
  const outbox = new Outbox('report', keep);
  outbox.add({ revision: 1, operation: typed('b1', 'float') });
  outbox.shift();
  expect(keep.kept.size).toBe(0);
});

test('a browser that keeps nothing, or nonsense, still sends', () => {
  const full = { getItem: () => '{broken', setItem: () => { throw new Error('full'); }, removeItem: () => undefined };
  const outbox = new Outbox('report', full);
  outbox.add({ revision: 1, operation: typed('b1', 'float') });
  expect(outbox.size).toBe(1);
});
