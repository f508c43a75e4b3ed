import { expect, test } from 'vitest';
import type { Inline } from '../src/api/client';
import { contentOf, documentOf } from '../src/desk/editor';

const plain = { marks: 0, color: null, link: null };

test('content goes through the editor unchanged: looks, links, notes, fields, pictures, tabs, breaks', () => {
  const content: Inline[] = [
    { type: 'text', text: 'Page ', ...plain },
    { type: 'field', kind: 'page', ...plain },
    { type: 'tab', ...plain },
    { type: 'text', text: '{page} is text', ...plain, marks: 3, color: 'aa0000' },
    { type: 'break', ...plain },
    { type: 'note', note: 'b7', mark: '1', ...plain, marks: 16 },
    { type: 'picture', picture: '5f', media: 'image/png', width: 9, height: 9.5, alt: 'sign', ...plain },
    { type: 'text', text: 'the rules', ...plain, link: { to: 'block', block: 'b9' } },
  ];
  expect(contentOf(documentOf(content))).toEqual(content);
});

test('each element that is no text takes one character', () => {
  const content: Inline[] = [{ type: 'text', text: 'ab' }, { type: 'tab' }, { type: 'note', note: 'b7', mark: '12' }, { type: 'picture', picture: '5f', media: 'image/png', width: 9, height: 9 }];
  expect(documentOf(content).content.size).toBe(5);
});
