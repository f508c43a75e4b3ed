/** Equations drawn by the browser: how each is drawn and said comes from the server, which is asked once for each. */
import { api, type DrawnEquation, type Equation, type TexCommand } from '../api/client';

const MOST = 200; // equations that are asked for at once
const known = new Map<string, Promise<DrawnEquation>>();
let waiting: { equation: Equation; language: string; done: (drawn: DrawnEquation) => void; failed: (error: unknown) => void }[] = [];

const keyOf = (equation: Equation, language: string) => JSON.stringify([equation.tree, equation.display ?? false, language]);

async function askForAll(): Promise<void> {
  const asked = waiting.splice(0, MOST);
  if (waiting.length) setTimeout(() => void askForAll());
  for (const language of new Set(asked.map((one) => one.language))) {
    const own = asked.filter((one) => one.language === language);
    try {
      const { drawn } = await api.drawEquations(own.map((one) => one.equation), language);
      own.forEach((one, i) => one.done(drawn[i]!));
    } catch (error) {
      own.forEach((one) => {
        known.delete(keyOf(one.equation, language));
        one.failed(error);
      });
    }
  }
}

/** How an equation is drawn, typed and said. */
export function drawn(equation: Equation, language = 'en'): Promise<DrawnEquation> {
  const key = keyOf(equation, language);
  let found = known.get(key);
  if (!found) {
    found = new Promise((done, failed) => {
      if (!waiting.length) setTimeout(() => void askForAll());
      waiting.push({ equation, language, done, failed });
    });
    known.set(key, found);
  }
  return found;
}

let commands: Promise<TexCommand[]> | null = null;

/** The commands that may be typed, asked for once. */
export function texCommands(): Promise<TexCommand[]> {
  commands ??= api.texCommands().catch(() => {
    commands = null;
    return [];
  });
  return commands;
}

/** Puts MathML into an element, as elements of its own and never as text that is run. */
export function show(place: HTMLElement, one: Pick<DrawnEquation, 'mathml' | 'said'>): void {
  const parsed = new DOMParser().parseFromString(one.mathml, 'text/html').querySelector('math');
  place.classList.remove('waiting');
  if (!parsed) return place.replaceChildren();
  parsed.setAttribute('aria-label', one.said);
  place.replaceChildren(document.importNode(parsed, true));
}

/** Draws an equation into an element as soon as it is known how; until then, and where the server cannot be reached, a sign stands there. */
export function drawInto(place: HTMLElement, equation: Equation, language?: string): void {
  place.classList.add('equation', 'waiting');
  place.textContent = '∑';
  drawn(equation, language).then(
    (one) => show(place, one),
    () => undefined,
  );
}
