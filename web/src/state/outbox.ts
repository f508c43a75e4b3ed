/**
 * Operations that have not reached the server: kept in the browser, so that neither a lost connection nor a closed window loses them.
 * What is typed into one text again and again is one entry, the last.
 */
import type { Inline, Operation } from '../api/client';

/** An operation that waits, the revision that it was made of, and, for text, what was there before it was typed. */
export interface Waiting {
  revision: number;
  operation: Operation;
  before?: readonly Inline[];
}

type Keep = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

export class Outbox {
  private entries: Waiting[];

  constructor(
    private readonly document: string,
    private readonly keep: Keep = localStorage,
    private readonly person = '',
  ) {
    this.entries = this.read();
  }

  get first(): Waiting | undefined {
    return this.entries[0];
  }

  get size() {
    return this.entries.length;
  }

  add(entry: Waiting) {
    const last = this.entries.at(-1);
    const { operation } = entry;
    if (last && operation.op === 'edit_text' && last.operation.op === 'edit_text' && last.operation.block === operation.block) {
      this.entries[this.entries.length - 1] = { ...last, operation };
    } else this.entries.push(entry);
    this.write();
  }

  /** The first entry has been sent, or cannot be. */
  shift(): Waiting | undefined {
    const first = this.entries.shift();
    this.write();
    return first;
  }

  private get key() {
    return `evenquill.unsent.${this.person && `${this.person}.`}${this.document}`;
  }

  private read(): Waiting[] {
    try {
      const kept = JSON.parse(this.keep.getItem(this.key) ?? '[]') as Waiting[];
      return Array.isArray(kept) ? kept : [];
    } catch {
      return [];
    }
  }

  private write() {
    try {
      if (this.entries.length) this.keep.setItem(this.key, JSON.stringify(this.entries));
      else this.keep.removeItem(this.key);
    } catch {
      // A browser that keeps nothing still has the entries until the window is closed.
    }
  }
}
