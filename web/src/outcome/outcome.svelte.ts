/** The outcome of the open document: as it is, and as it would be if it were made to fit in one of several ways. */
import { api, Refusal, type FitView, type Misfit, type OutcomeView } from '../api/client';
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';
import { drift } from './places';

export const WAYS = ['spacing', 'size', 'source'] as const;
export type Way = (typeof WAYS)[number];

const ALIKE = 0.02; // pages by which an end may be elsewhere before it is said

export class Outcome {
  now = $state.raw<OutcomeView | null>(null);
  tried = $state.raw<Partial<Record<Way, FitView>>>({});
  /** The way that is looked at before it is kept. */
  way = $state<Way | null>(null);
  problem = $state('');
  loading = $state(false);
  /** Which of the places that do not fit is in hand. */
  at = $state(0);
  /** Those that the clerk leaves as they are, until the document is another one. */
  private left = $state.raw<ReadonlySet<string>>(new Set());
  private asked = 0;

  constructor(readonly proof: Proof) {}

  /** What is shown: the outcome as it is, or as it would be. */
  get shown(): OutcomeView | null {
    return (this.way && this.tried[this.way]?.outcome) || this.now;
  }

  get misfits(): Misfit[] {
    return (this.now?.misfits ?? []).filter((misfit) => !this.left.has(key(misfit)));
  }

  get inHand(): Misfit | undefined {
    return this.misfits[Math.min(this.at, this.misfits.length - 1)];
  }

  /** Whether pages end where those of the source do. */
  get alike(): boolean {
    const now = this.now;
    return !!now && now.source_pages.every((_, n) => Math.abs(drift(now, n + 1)) < ALIKE);
  }

  /** Whether pages could begin where those of the source do, and do not yet. */
  get canBeginAlike(): boolean {
    return !this.alike && (this.now?.source_pages.length ?? 0) > 1;
  }

  /** Sets the document as it is now. */
  async load() {
    const turn = ++this.asked;
    this.loading = true;
    try {
      const outcome = await api.outcome(this.proof.id);
      if (turn !== this.asked) return;
      if (outcome.revision !== this.now?.revision) {
        this.tried = {};
        this.way = null;
        this.left = new Set();
      }
      this.now = outcome;
      this.problem = '';
      void this.tryWays(turn);
    } catch (error) {
      if (turn === this.asked) this.problem = error instanceof Error ? error.message : String(error);
    } finally {
      if (turn === this.asked) this.loading = false;
    }
  }

  /** Finds out, one after the other, what the ways to make it fit come to. */
  private async tryWays(turn: number) {
    const pages = this.now?.misfits.some((misfit) => misfit.kind === 'more_pages' || misfit.kind === 'fewer_pages');
    for (const way of WAYS) {
      if (way === 'source' ? !this.canBeginAlike : !pages) continue;
      if (this.tried[way]) continue;
      let tried: FitView;
      try {
        tried = await api.fit(this.proof.id, way);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        tried = { outcome: null, sentence: error.message };
      }
      if (turn !== this.asked) return;
      this.tried = { ...this.tried, [way]: tried };
    }
  }

  /** Shows a way before it is kept; the same once more, or null, goes back to the outcome as it is. */
  look(way: Way | null) {
    this.way = way && this.tried[way]?.outcome && way !== this.way ? way : null;
  }

  /** Keeps the way that is looked at, as one step. */
  async keep() {
    const tried = this.way && this.tried[this.way]?.outcome;
    if (!tried || !tried.fit || this.proof.readOnly) return;
    const pages = tried.pages.length;
    const done = await this.proof.send(tried.fit);
    this.way = null;
    if (done) notices.say(`It takes ${pages === 1 ? 'one page' : `${pages} pages`} now. Undo takes that back.`);
  }

  leave() {
    if (this.inHand) this.left = new Set([...this.left, key(this.inHand)]);
    this.step(0);
  }

  step(by: number) {
    const count = this.misfits.length;
    this.at = count ? (Math.min(this.at, count - 1) + by + count) % count : 0;
  }
}

const key = (misfit: Misfit) => `${misfit.kind} ${misfit.row}`;
