/** What differs between two texts, word by word, with long stretches that are the same cut short. */
import { diffWordsWithSpace } from 'diff';

export type Stretch = { text: string; kind: 'same' | 'gone' | 'new' };

const AROUND = 40; // characters of what is the same that are shown beside a change, whole words of them

export function wordChanges(before: string, after: string): Stretch[] {
  if (!before || !after) return [{ text: before || after, kind: before ? 'gone' : 'new' }];
  const parts = diffWordsWithSpace(before, after);
  return parts.map((part, n) =>
    part.added || part.removed
      ? { text: part.value, kind: part.added ? 'new' : 'gone' }
      : { text: shortened(part.value, n > 0, n < parts.length - 1), kind: 'same' },
  );
}

/** A stretch without its middle, or without the end at which nothing was changed. */
function shortened(text: string, behind: boolean, before: boolean): string {
  if (text.length <= AROUND * 2 + 10) return text;
  const start = behind ? text.slice(0, AROUND).replace(/\S*$/, '') : '';
  const end = before ? text.slice(-AROUND).replace(/^\S*/, '') : '';
  return `${start}…${end}`;
}
