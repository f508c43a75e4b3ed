/**
 * The queries of the open document, in the order of its text, and the one in hand.
 *
 * The list follows every change that the server answers. A settled query gives way to the next at once; the server's answer only
 * confirms it.
 */
import { api, type Change, type Equation, type Inline, type Operation, type QueryCounts, type QueryKind, type PlacedQuery, type WordAnswer } from '../api/client';
import { withEquation } from '../shared/blocks';
import { notices } from './notices.svelte';

export type Filter = { kind: string; page: number; least: number; left: boolean };
export const EVERYTHING: Filter = { kind: '', page: 0, least: 0, left: true };

/** What queries need of the open document. */
interface OpenDocument {
  readonly id: string;
  send(operation: Operation): Promise<Change | null>;
}

const EQUATION = 'equation';

const contentOf = (operation: Operation | undefined) => (operation?.op === 'edit_text' ? [...operation.content] : null);

export class Queries {
  list = $state.raw<PlacedQuery[]>([]);
  kinds = $state.raw<QueryKind[]>([]);
  counts = $state.raw<QueryCounts | null>(null);
  /** The query in hand, by id; null while the clerk is at the rows. */
  current = $state<string | null>(null);
  filter = $state.raw<Filter>(EVERYTHING);
  private settling = new Set<string>();

  constructor(private readonly document: OpenDocument) {}

  /** Asks for all queries; the answer is not taken where it has become old meanwhile. */
  async load(isOld: () => boolean = () => false) {
    try {
      const answer = await api.queries(this.document.id);
      if (isOld()) return;
      this.list = answer.queries;
      this.kinds = [...answer.kinds];
      this.counts = answer.counts;
      if (this.current && !this.find(this.current)) this.current = null;
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Those that pass the filter. */
  readonly shown = $derived.by(() => this.list.filter((one) => this.passes(one)));

  /** Queries by row, for marks in the text. */
  readonly byRow = $derived.by(() => {
    const rows = new Map<string, PlacedQuery[]>();
    for (const one of this.list) {
      if (!one.query.block) continue;
      const row = rows.get(one.query.block);
      if (row) row.push(one);
      else rows.set(one.query.block, [one]);
    }
    return rows;
  });

  /** Open queries by page, for the ladder. */
  readonly byPage = $derived.by(() => {
    const pages = new Map<number, number>();
    for (const one of this.list) if (!this.kind(one.query.kind)?.kept) pages.set(one.query.page, (pages.get(one.query.page) ?? 0) + 1);
    return pages;
  });

  readonly inHand = $derived(this.current ? this.find(this.current) : undefined);

  /** Where the doubt in hand is about an equation: all that are asked about equal ones, that in hand first. */
  readonly equal = $derived.by(() => {
    const one = this.inHand;
    if (one?.query.kind !== EQUATION) return one ? [one] : [];
    return [one, ...this.list.filter((other) => other !== one && other.query.kind === EQUATION && other.query.text === one.query.text)];
  });

  find(id: string): PlacedQuery | undefined {
    return this.list.find((one) => one.id === id);
  }

  kind(name: string): QueryKind | undefined {
    return this.kinds.find((kind) => kind.name === name);
  }

  passes(one: PlacedQuery, filter = this.filter): boolean {
    return (
      (!filter.kind || one.query.kind === filter.kind) &&
      (!filter.page || one.query.page === filter.page) &&
      one.query.likelihood >= filter.least &&
      (filter.left || !one.left)
    );
  }

  /** Takes the next or previous query in hand; those left for later come when no other is open. Returns whether there is one. */
  step(by: 1 | -1, from = this.current): boolean {
    const shown = this.shown.filter((one) => !this.settling.has(one.id));
    const at = from === null ? -1 : this.list.findIndex((one) => one.id === from);
    const ordered = by > 0 ? shown : [...shown].reverse();
    const beyond = ordered.filter((one) => (by > 0 ? this.list.indexOf(one) > at : at < 0 || this.list.indexOf(one) < at));
    const before = ordered.filter((one) => !beyond.includes(one) && one.id !== from);
    const next = [...beyond, ...before].find((one) => !one.left) ?? [...beyond, ...before][0];
    this.current = next?.id ?? null;
    return next !== undefined;
  }

  /** The first query from a row on. */
  from(place: number): boolean {
    const shown = this.shown.filter((one) => !this.settling.has(one.id));
    const next = shown.find((one) => one.place >= place && !one.left) ?? shown.find((one) => !one.left) ?? shown[0];
    this.current = next?.id ?? null;
    return next !== undefined;
  }

  /** Answers the query in hand with a word; the same word keeps it. */
  settle(text: string, typed = false) {
    const one = this.inHand;
    if (one) this.send(this.operation([[one, text]], typed), [one.id]);
  }

  keep() {
    const one = this.inHand;
    if (!one) return;
    if (one.query.typing === 'word') this.settle(one.query.text);
    else this.send({ op: 'keep', doubts: [one.key] }, [one.id]);
  }

  fix(operation: Operation) {
    const one = this.inHand;
    if (!one) return;
    // The doubt is gone with the step, whether or not what was done removes its cause.
    const steps = [operation, { op: 'keep', doubts: [one.key] }] as Extract<Operation, { op: 'together' }>['steps'];
    this.send({ op: 'together', steps }, [one.id]);
  }

  /** Puts an equation in the place of the one in hand and of all equal ones that are asked about, as one step. */
  fixEqual(tree: Equation['tree']) {
    const rows = new Map<string, Inline[]>();
    for (const { query } of this.equal) {
      const block = query.block ?? '';
      const content = rows.get(block) ?? contentOf(query.fixes?.[0]?.operation);
      if (content) rows.set(block, withEquation(content, query.start ?? 0, tree));
    }
    const edits = [...rows].map(([block, content]) => ({ op: 'edit_text' as const, block, content }));
    const doubts = this.equal.filter(({ query }) => rows.has(query.block ?? ''));
    this.send({ op: 'together', steps: [...edits, { op: 'keep', doubts: doubts.map((one) => one.key) }] }, doubts.map((one) => one.id));
  }

  /** Keeps the equation in hand and all equal ones as they are. */
  keepEqual() {
    this.send({ op: 'keep', doubts: this.equal.map((one) => one.key) }, this.equal.map((one) => one.id));
  }

  describe(alt: string) {
    const one = this.inHand;
    if (one) this.send({ op: 'describe', block: one.query.block ?? '', alt }, [one.id]);
  }

  /** Answers several queries as one step. */
  settleAll(answers: [PlacedQuery, string][]) {
    if (answers.length) this.send(this.operation(answers, false), answers.map(([one]) => one.id));
  }

  /** Answers the query in hand and words that look like it, as one step. */
  settleAlike(text: string, others: WordAnswer[]) {
    const one = this.inHand;
    if (!one) return;
    const operation = this.operation([[one, text]], false);
    this.send({ ...operation, answers: [...operation.answers, ...others] }, [one.id]);
  }

  async leave() {
    const one = this.inHand;
    if (!one) return;
    this.list = this.list.map((other) => (other.id === one.id ? { ...other, left: true } : other));
    this.step(1, one.id);
    try {
      this.counts = await api.leave(this.document.id, [one.id]);
    } catch (error) {
      notices.wrong(error);
    }
  }

  private operation(answers: [PlacedQuery, string][], typed: boolean) {
    return {
      op: 'settle' as const,
      answers: answers.map(([one, text]) => ({
        block: one.query.block ?? '',
        start: one.query.start ?? 0,
        spot: one.query.spots?.[0] ?? null,
        read: one.query.text,
        text,
        key: one.key,
        typed,
      })),
    };
  }

  private send(operation: Operation, ids: string[]) {
    ids.forEach((id) => this.settling.add(id));
    this.step(1);
    void this.document.send(operation).then(async (taken) => {
      ids.forEach((id) => this.settling.delete(id));
      if (!taken) await this.load();
    });
  }

  /** What the server says a change did. */
  take(change: Change) {
    const was = this.inHand;
    const gone = new Set([...change.gone, ...change.queries.map((one) => one.id)]);
    const shift = change.blocks.length - change.removed;
    const behind = change.at + change.removed;
    const kept = this.list
      .filter((one) => !gone.has(one.id))
      .map((one) => (shift && one.place >= behind ? { ...one, place: one.place + shift } : one));
    this.list = [...kept, ...change.queries].sort(
      (a, b) => a.place - b.place || Number(!!a.query.block) - Number(!!b.query.block) || (a.query.start ?? 0) - (b.query.start ?? 0),
    );
    this.counts = change.counts;
    if (was && !this.find(was.id)) this.current = this.moved(was, change.queries)?.id ?? null;
  }

  /** The same query where a change has put it. */
  private moved(was: PlacedQuery, come: readonly PlacedQuery[]): PlacedQuery | undefined {
    const away = (one: PlacedQuery) => Math.abs((one.query.start ?? 0) - (was.query.start ?? 0));
    return come.filter((one) => one.query.kind === was.query.kind && one.query.text === was.query.text).sort((a, b) => away(a) - away(b))[0];
  }
}
