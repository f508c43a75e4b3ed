/** Numbers of a column set with their decimal signs below each other, as the writers do it (core/model/decimals.py). */
import type { TableBlock, TextBlock } from '../api/client';
import { textOf } from '../shared/blocks';

const SIGN = /(?<=\d)[.,](?=\d)|^[.,](?=\d)/g;
const GROUP = 3; // figures between the signs that part thousands

/** The sign before the decimals of a column's numbers, null where they have none. */
export function decimalSign(numbers: string[]): string | null {
  const last = new Map<string, number[]>();
  const parting = new Set<string>();
  for (const number of numbers) {
    const found = [...number.matchAll(SIGN)];
    for (const one of found.slice(0, -1)) parting.add(one[0]);
    const end = found.at(-1);
    if (end) last.set(end[0], [...(last.get(end[0]) ?? []), /^\d*/.exec(number.slice(end.index + 1))![0].length]);
  }
  const signs = [...last].filter(([sign, lengths]) => !parting.has(sign) && lengths.some((length) => length !== GROUP));
  return signs.sort(([, a], [, b]) => b.length - a.length)[0]?.[0] ?? null;
}

function decimalsOf(number: string, sign: string | null): string {
  const at = [...number.matchAll(SIGN)].filter((one) => one[0] === sign).at(-1)?.index;
  return at === undefined ? '' : number.slice(at);
}

const figures = (text: string) => text.replace(/\D/g, '').length;
/** Ems of what is no figure: signs and spaces are narrow, units as wide as figures. */
const others = (text: string) => [...text.replace(/\d/g, '')].reduce((sum, letter) => sum + (/[.,’'\s]/.test(letter) ? 0.25 : 0.5), 0);
const width = (text: string) => 0.5 * figures(text) + others(text);

/** CSS lengths of the room behind each text that is aligned by decimals, by the ids of these. */
export function roomBehindDecimals(table: TableBlock): ReadonlyMap<string, string> {
  const columns = new Map<number, TextBlock[]>();
  for (const cell of table.cells) {
    const texts = cell.texts.filter((text) => text.align === 'decimal');
    const column = cell.column + (cell.columns ?? 1) - 1;
    if (texts.length) columns.set(column, [...(columns.get(column) ?? []), ...texts]);
  }
  const rooms = new Map<string, string>();
  for (const texts of columns.values()) {
    const numbers = texts.map((text) => textOf(text.content));
    const sign = decimalSign(numbers);
    const behind = numbers.map((number) => decimalsOf(number, sign));
    const longest = behind.reduce((a, b) => (width(b) > width(a) ? b : a), '');
    texts.forEach((text, n) => {
      const own = behind[n]!;
      rooms.set(text.id, `calc(${figures(longest) - figures(own)}ch + ${others(longest) - others(own)}em)`);
    });
  }
  return rooms;
}
