/** The typefaces of the document in hand: which are tried on the screen for one of a name. Open ones that others are as wide as ship with it. */
import { api, type TypefacesView } from '../api/client';
import { notices } from './notices.svelte';

const SHIPPED = { tinos: 'Liberation Serif', arimo: 'Liberation Sans', cousine: 'Liberation Mono', carlito: 'Carlito', caladea: 'Caladea' } as const;

const RANGES = {
  latin:
    'U+0-FF,U+131,U+152-153,U+2BB-2BC,U+2C6,U+2DA,U+2DC,U+304,U+308,U+329,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD',
  'latin-ext':
    'U+100-2BA,U+2BD-2C5,U+2C7-2CC,U+2CE-2D7,U+2DD-2FF,U+304,U+308,U+329,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF',
} as const;

const files = import.meta.glob<string>('/node_modules/@fontsource/{tinos,arimo,cousine,carlito,caladea}/files/*-{latin,latin-ext}-{400,700}-{normal,italic}.woff2', {
  query: '?url',
  import: 'default',
  eager: true,
});

/** Makes the typefaces known that ship; each file is fetched when text needs it. */
export function shipTypefaces(): void {
  for (const [path, url] of Object.entries(files)) {
    const [, name, range, weight, style] = /files\/([a-z]+)-(latin(?:-ext)?)-(\d+)-(\w+)\.woff2$/.exec(path) ?? [];
    const family = SHIPPED[name as keyof typeof SHIPPED];
    if (family) document.fonts.add(new FontFace(family, `url(${url})`, { weight, style, unicodeRange: RANGES[range as keyof typeof RANGES] }));
  }
}

class Typefaces {
  /** What is known of the document's typefaces, and what the office chose. */
  view = $state.raw<TypefacesView | null>(null);
  private readonly byName = $derived(new Map(this.view?.uses.map((use) => [use.name.toLowerCase(), use.faces])));

  /** Those that are tried for one of a name, itself first. */
  of(name: string): readonly string[] {
    return this.byName.get(name.toLowerCase()) ?? [name];
  }

  async load(id: string): Promise<void> {
    try {
      this.view = await api.typefaces(id);
    } catch (error) {
      notices.wrong(error);
    }
  }
}

export const typefaces = new Typefaces();
