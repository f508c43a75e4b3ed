import { describe, expect, it } from 'vitest';
import { wordChanges } from '../src/deliver/wordChanges';

describe('what differs between two texts', () => {
  it('is told word by word', () => {
    expect(wordChanges('The float was found.', 'The buoy was found.')).toEqual([
      { text: 'The ', kind: 'same' },
      { text: 'float', kind: 'gone' },
      { text: 'buoy', kind: 'new' },
      { text: ' was found.', kind: 'same' },
    ]);
  });

  it('is all of a text that was put in or taken out', () => {
    expect(wordChanges('', 'A row')).toEqual([{ text: 'A row', kind: 'new' }]);
    expect(wordChanges('A row', '')).toEqual([{ text: 'A row', kind: 'gone' }]);
  });

  it('leaves out the middle of what is the same', () => {
    const long = 'the gauge at the pier was read each hour '.repeat(20);
    const [first, , , last] = wordChanges(`${long}float ${long}`, `${long}buoy ${long}`);
    expect(first!.text.length).toBeLessThan(60);
    expect(first!.text.startsWith('… ')).toBe(true);
    expect(last!.text.endsWith(' …')).toBe(true);
  });
});
