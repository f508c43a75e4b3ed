/**
 * The open document: its rows, as far as they are loaded, and every change to them.
 *
 * Changes are sent one after another, each against the revision that the one before gave. A change that the server
 * refuses because another window was faster makes this window read the document anew; what was typed is said, not lost.
 */
import { api, Refusal, type Block, type Change, type Opened, type Operation, type PageEdges, type PageInfo } from '../api/client';
import { hear } from './events';
import { notices } from './notices.svelte';
import { textOf } from '../shared/blocks';
import { Queries } from './queries.svelte';

const WINDOW = 80;

export class Proof {
  opened = $state.raw<Opened | null>(null);
  blocks = $state.raw<(Block | undefined)[]>([]);
  ladder = $state.raw<PageInfo[]>([]);
  /** Sizes and text edges of the pages that rows have been loaded of. */
  pages = $state.raw<ReadonlyMap<number, PageEdges>>(new Map());
  revision = $state(0);
  canUndo = $state(false);
  canRedo = $state(false);
  savedAt = $state<Date | null>(null);
  saving = $state(0);
  problem = $state('');
  /** The row that the clerk is at, by block id. */
  selected = $state<string | null>(null);
  /** Where to put the caret when the selected row, or a text in a cell of it, opens for typing; null while none is open. */
  editing = $state<{ at: number; text?: string } | null>(null);

  /** Rows that are marked together with the selected one, by block id. What is done then is done to all. */
  marked = $state.raw<ReadonlySet<string>>(new Set());

  /** Whether rows are being dragged to another place. */
  dragging = $state(false);

  /** Whether strips show pages as they were cleaned for reading, or as they came. */
  view = $state<'cleaned' | 'came'>('cleaned');

  readonly queries = new Queries(this);

  /** What is typed while a row is being made that will be open for typing; null when none is. */
  typedAhead: string | null = null;

  private queue: Promise<unknown> = Promise.resolve();
  private loading = new Set<number>();
  private stopHearing: () => void;
  private closed = false;

  constructor(readonly id: string) {
    void this.load();
    this.stopHearing = hear((document) => {
      if (document === '' || document === id) void this.look();
    });
  }

  close() {
    this.closed = true;
    this.stopHearing();
  }

  get total() {
    return this.blocks.length;
  }

  get readOnly() {
    const document = this.opened?.document;
    return !document || document.preview || document.state === 'reading' || document.state === 'waiting';
  }

  async load() {
    try {
      const opened = await api.open(this.id);
      if (this.closed) return;
      this.opened = opened;
      this.problem = '';
      this.canUndo = opened.can_undo;
      this.canRedo = opened.can_redo;
      if (opened.document.revision !== this.revision || opened.total !== this.blocks.length || opened.document.preview) {
        this.revision = opened.document.revision;
        this.blocks = new Array<Block | undefined>(opened.total);
        this.loading.clear();
      }
      this.ladder = await api.ladder(this.id);
      if (!this.readOnly) await this.queries.load();
    } catch (error) {
      if (error instanceof Refusal && error.name === 'unread') this.problem = error.message;
      else if (!this.closed) this.problem = error instanceof Error ? error.message : String(error);
    }
  }

  /** Something happened to the document; if it was not this window's doing, reads it anew. */
  private async look() {
    await this.queue;
    if (this.closed) return;
    if (!this.opened || this.readOnly) return void this.load();
    try {
      const newest = await api.open(this.id);
      await this.queue;
      if (newest.document.revision > this.revision && !this.editing) {
        notices.say('This document was changed in another window; here is its newest state.');
        await this.load();
      } else if (newest.document.revision === this.revision) {
        this.opened = newest;
        this.ladder = await api.ladder(this.id);
      }
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
    }
  }

  /** Sees to it that the rows from ``start`` to ``end`` are loaded. */
  want(start: number, end: number) {
    for (let first = Math.floor(start / WINDOW) * WINDOW; first < Math.min(end, this.total); first += WINDOW) {
      if (this.loading.has(first)) continue;
      let missing = false;
      for (let i = first; i < Math.min(first + WINDOW, this.total); i++) missing ||= !this.blocks[i];
      if (missing) void this.fetch(first);
    }
  }

  private async fetch(start: number) {
    this.loading.add(start);
    try {
      const answer = await api.rows(this.id, start, WINDOW);
      if (answer.revision === this.revision && answer.total === this.total) {
        const blocks = this.blocks.slice();
        answer.blocks.forEach((block, i) => (blocks[start + i] ??= block));
        this.pages = new Map([...this.pages, ...answer.pages.map((page) => [page.number, page] as const)]);
        this.blocks = blocks;
      } else if (!this.saving) await this.load();
    } catch (error) {
      notices.wrong(error);
    } finally {
      this.loading.delete(start);
    }
  }

  /** The rows that an action is for, in their order: those that are marked, else the selected one. */
  get inHand(): Block[] {
    const ids = this.marked.size ? this.marked : new Set(this.selected ? [this.selected] : []);
    return this.blocks.filter((block): block is Block => block !== undefined && ids.has(block.id));
  }

  /** Marks the rows from the selected one to another. */
  markTo(id: string) {
    const [from, to] = [this.place(this.selected), this.place(id)].sort((a, b) => a - b) as [number, number];
    if (from < 0) return;
    this.editing = null;
    this.marked = new Set(this.blocks.slice(from, to + 1).flatMap((block) => (block ? [block.id] : [])));
  }

  /** Marks a row too, or no longer. */
  toggleMark(id: string) {
    const marked = new Set(this.marked.size ? this.marked : this.selected ? [this.selected] : []);
    if (!marked.delete(id)) marked.add(id);
    this.editing = null;
    this.marked = marked.size > 1 ? marked : new Set();
  }

  /** Lets the marked stretch grow or shrink by a row at its moving end. */
  markOn(by: -1 | 1) {
    const at = this.place(this.selected);
    const places = this.inHand.map((block) => this.place(block.id));
    const [first, last] = [Math.min(...places), Math.max(...places)];
    const end = (last > at || (first === at && by > 0) ? last : first) + by;
    const block = this.blocks[end];
    if (block) this.markTo(block.id);
    if (end === at) this.unmark();
  }

  unmark() {
    if (this.marked.size) this.marked = new Set();
  }

  place(id: string | null): number {
    return id === null ? -1 : this.blocks.findIndex((block) => block?.id === id);
  }

  block(id: string | null): Block | undefined {
    return this.blocks[this.place(id)];
  }

  /** Sends an operation; resolves to whether it was taken. */
  send(operation: Operation): Promise<boolean> {
    return this.inTurn(() => api.operate(this.id, this.revision, operation), operation);
  }

  undo = () => this.inTurn(() => api.undo(this.id, this.revision));
  redo = () => this.inTurn(() => api.redo(this.id, this.revision));

  private inTurn(ask: () => Promise<Change>, operation?: Operation): Promise<boolean> {
    this.saving++;
    const turn = this.queue.then(async () => {
      try {
        this.take(await ask());
        return true;
      } catch (error) {
        await this.refused(error, operation);
        return false;
      } finally {
        this.saving--;
      }
    });
    this.queue = turn;
    return turn;
  }

  private take(change: Change) {
    const blocks = this.blocks.slice();
    blocks.splice(change.at, change.removed, ...change.blocks);
    this.blocks = blocks;
    this.revision = change.revision;
    this.canUndo = change.can_undo;
    this.canRedo = change.can_redo;
    this.savedAt = new Date();
    if (this.marked.size && change.removed !== change.blocks.length) this.unmark();
    this.queries.take(change);
  }

  private async refused(error: unknown, operation?: Operation) {
    if (error instanceof Refusal && error.name === 'stale') {
      this.editing = null;
      this.revision = -1;
      await this.load();
      const typed = operation?.op === 'edit_text' ? textOf(operation.runs) : '';
      notices.say(error.message + (typed ? ` What you typed was: “${typed}”` : ''), undefined, 'wrong');
    } else if (!(error instanceof Refusal && error.name === 'history')) notices.wrong(error);
  }
}
