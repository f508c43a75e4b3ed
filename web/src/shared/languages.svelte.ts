/** Languages that can be read, with their names. */
import { api } from '../api/client';

const NAMES = new Intl.DisplayNames(['en'], { type: 'language' });

let known = $state<readonly string[]>([]);
let asked = false;

export const languages = {
  /** Codes of three letters; asked for once. */
  get codes() {
    if (!asked) {
      asked = true;
      void api.languages().then(
        (codes) => (known = codes),
        () => (asked = false),
      );
    }
    return known;
  },
};

/** The English name of a language code. */
export function languageName(code: string): string {
  try {
    return NAMES.of(code.replace('_', '-')) ?? code;
  } catch {
    return code;
  }
}
