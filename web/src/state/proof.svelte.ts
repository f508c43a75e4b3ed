/**
 * The open document: its rows, as far as they are loaded, and every change to them.
 *
 * Changes are sent one after another, each made of the revision that the one before gave. One that the server refuses because another
 * window was faster ends all that wait behind it, which were made of what this window showed; what was typed is said, not lost. What
 * cannot be sent because the server is not there waits in the outbox, and is sent when it is there again.
 */
import { api, Refusal, type Block, type Change, type Inline, type Opened, type Operation, type PageEdges, type PageInfo } from '../api/client';
import { isTable, isText, readable } from '../shared/blocks';
import { subscribe } from './events';
import { notices } from './notices.svelte';
import { Outbox, type Waiting } from './outbox';
import { session } from './session.svelte';
import type { Area } from './sheet.svelte';
import { Queries } from './queries.svelte';

const WINDOW = 80;
const REREAD = 'That text was read otherwise meanwhile; what was typed was not taken over.';
const OVERTAKEN = 'Something else was changed while the server could not be reached; this was not taken over.';
const RETRY = 2500; // milliseconds after which what could not be sent is tried again

type EditText = Extract<Operation, { op: 'edit_text' }>;

export class Proof {
  opened = $state.raw<Opened | null>(null);
  blocks = $state.raw<(Block | undefined)[]>([]);
  ladder = $state.raw<PageInfo[]>([]);
  /** What stands before items of lists, by block id. */
  labels = $state.raw<Readonly<Record<string, string>>>({});
  /** Sizes and text edges of the pages that rows have been loaded of. */
  pages = $state.raw<ReadonlyMap<number, PageEdges>>(new Map());
  revision = $state(-1);
  canUndo = $state(false);
  canRedo = $state(false);
  savedAt = $state<Date | null>(null);
  saving = $state(0);
  /** How many changes wait for the server to be there again. */
  unsent = $state(0);
  problem = $state('');
  /** The document is no more, since the joining of its files was undone. */
  parted = $state(false);
  /** The row that the clerk is at, by block id. */
  selected = $state<string | null>(null);
  /** Where to put the caret when the selected row, or a text in a cell of it, opens for typing; null while none is open. */
  editing = $state<{ at: number; text?: string } | null>(null);
  /** The equation in hand: its row, and the characters of the row's plain text that it is, or takes the place of; none for a new one. */
  equation = $state<{ block: string; at: number; until: number } | null>(null);

  /** What a page is called: what is printed on it, else its number. */
  labelOf(page: number): string {
    return this.ladder[page - 1]?.label || String(page);
  }

  /** The equation in hand, as long as its row is. */
  get equationInHand() {
    const row = this.block(this.selected);
    const texts = !row ? [] : row.type === 'table' ? row.cells.flatMap((cell) => cell.texts) : [row];
    return texts.some((text) => text.id === this.equation?.block) ? this.equation : null;
  }

  /** Takes a rectangle that is drawn on the strip of the row in hand: its page, and its box in points; null while nothing asks for one. */
  takeFromPage = $state.raw<((page: number, box: Area) => void) | null>(null);

  /** Rows that are to be cut into columns, and where lines were drawn for that, in points from the left of the page. */
  columnLines = $state.raw<{ blocks: readonly string[]; edges: readonly number[] } | null>(null);

  /** Rows that are marked together with the selected one, by block id. What is done then is done to all. */
  marked = $state.raw<ReadonlySet<string>>(new Set());

  /** Whether the measure above the row in hand shows where its lines begin. */
  measured = $state(false);

  /** Whether rows are being dragged to another place. */
  dragging = $state(false);

  /** Whether strips show pages as they were cleaned for reading, or as they came. */
  view = $state<'cleaned' | 'came'>('cleaned');

  readonly queries = new Queries(this);

  /** The keys that are pressed while a row is being made that will be open for typing; null when none is. */
  keysAhead: string[] | null = null;

  private queue: Promise<unknown> = Promise.resolve();
  /** Grows when what waits to be sent no longer fits what the document has become. */
  private epoch = 0;
  /** Rows are older than the document, since a text was open for typing when that was heard. */
  private behind = false;
  /** Pages were read again since the rows were loaded. */
  private readAgain = false;
  private loading = new Set<number>();
  private unsubscribe: () => void;
  private closed = false;
  private outbox: Outbox;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly id: string) {
    this.outbox = new Outbox(id, localStorage, session.person?.name);
    this.unsent = this.outbox.size;
    void this.load().then(() => this.sendWaiting());
    this.unsubscribe = subscribe((document) => {
      if (document === '' || document === id) void this.look();
    });
  }

  close() {
    this.closed = true;
    clearTimeout(this.retry);
    this.unsubscribe();
  }

  get total() {
    return this.blocks.length;
  }

  get readOnly() {
    const document = this.opened?.document;
    return !document || document.preview || !['to correct', 'ready', 'delivered'].includes(document.state);
  }

  async load(): Promise<void> {
    try {
      const opened = await api.open(this.id);
      if (this.closed) return;
      // A change was taken while the answer was on its way.
      if (opened.document.revision < this.revision) return await this.load();
      if (this.editing && this.revision >= 0 && opened.document.revision !== this.revision) {
        // Nobody's typing is cut off; the rows come when the text is closed.
        this.behind = true;
        return;
      }
      this.behind = this.readAgain = false;
      this.opened = opened;
      this.problem = '';
      this.canUndo = opened.can_undo;
      this.canRedo = opened.can_redo;
      if (opened.document.revision !== this.revision || opened.total !== this.blocks.length) {
        this.revision = opened.document.revision;
        this.blocks = new Array<Block | undefined>(opened.total);
        this.loading.clear();
      }
      this.ladder = await api.ladder(this.id);
      if (!this.readOnly) {
        await this.queries.load();
        this.labels = (await api.labels(this.id)).labels;
        // What a change said, taken in the meantime, was newer than these.
        if (this.revision > opened.document.revision && !this.closed) return await this.load();
      }
    } catch (error) {
      if (error instanceof Refusal && error.name === 'unread') this.problem = error.message;
      else if (!this.closed && !this.opened) this.problem = error instanceof Error ? error.message : String(error);
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
      if (newest.document.revision === this.revision) {
        this.opened = newest;
        this.canUndo = newest.can_undo;
        this.canRedo = newest.can_redo;
        // Doubts about how rows look come after all others; what is being settled meanwhile is known better here.
        const isOld = () => this.saving + this.unsent > 0 || this.revision !== newest.document.revision;
        if (!isOld() && newest.document.open_queries !== this.queries.counts?.open) await this.queries.load(isOld);
      } else if (newest.document.revision > this.revision && this.editing) {
        this.behind = true;
        this.readAgain ||= this.opened.document.busy !== '';
        this.opened = newest;
      } else if (newest.document.revision > this.revision && !this.unsent) {
        notices.say(this.opened.document.busy ? 'The pages were read again; here is the document now.' : 'This document was changed in another window; here is its newest state.');
        await this.load();
      }
    } catch (error) {
      if (error instanceof Refusal && error.name === 'missing') this.problem = error.message;
    }
  }

  /** No text is open for typing: rows that are older than the document give way to those of now, before anything else is sent. */
  catchUp() {
    if (!this.behind || this.editing) return;
    this.queue = this.queue.then(async () => {
      if (this.editing) return;
      this.revision = -1;
      await this.load();
    });
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
      } else if (!this.saving && !this.unsent) await this.load();
    } catch (error) {
      if (!this.unsent) notices.wrong(error);
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

  /** The content of a text row, or of a text in a cell, as it is shown. */
  contentOf(id: string): readonly Inline[] | undefined {
    for (const block of this.blocks) {
      if (!block) continue;
      if (isText(block) && block.id === id) return block.content ?? [];
      if (isTable(block)) for (const cell of block.cells) for (const text of cell.texts) if (text.id === id) return text.content ?? [];
    }
    return undefined;
  }

  /** Sends an operation; resolves to what it changed, null where it was not taken. */
  send(operation: Operation): Promise<Change | null> {
    return this.inTurn((revision) => api.operate(this.id, revision, operation), operation);
  }

  undo = () => this.inTurn((revision) => api.undo(this.id, revision));
  redo = () => this.inTurn((revision) => api.redo(this.id, revision));

  private inTurn(ask: (revision: number) => Promise<Change>, operation?: Operation): Promise<Change | null> {
    this.saving++;
    const epoch = this.epoch;
    const before = operation?.op === 'edit_text' ? this.contentOf(operation.block) : undefined;
    const turn = this.queue.then(async () => {
      try {
        if (epoch !== this.epoch) {
          this.say('Something that was done before was not taken.', operation);
          return null;
        }
        if (this.outbox.size && operation) {
          // What was done before it waits still.
          this.wait(operation, before);
          return null;
        }
        const change = await ask(this.revision);
        this.take(change);
        return change;
      } catch (error) {
        await this.refused(error, operation, before);
        return null;
      } finally {
        this.saving--;
      }
    });
    this.queue = turn;
    return turn;
  }

  private take(change: Change) {
    this.revision = change.revision;
    this.canUndo = change.can_undo;
    this.canRedo = change.can_redo;
    this.savedAt = new Date();
    if (change.styles && this.opened) this.opened = { ...this.opened, styles: change.styles };
    if (change.whole) {
      this.editing = null;
      this.blocks = new Array<Block | undefined>(change.total);
      this.loading.clear();
      void this.load();
      return;
    }
    const blocks = this.blocks.slice();
    blocks.splice(change.at, change.removed, ...change.blocks);
    this.blocks = blocks;
    if (Object.keys(change.labels).length) this.labels = { ...this.labels, ...change.labels };
    if (this.marked.size && change.removed !== change.blocks.length) this.unmark();
    if (change.removed !== change.blocks.length) this.shiftLadder(change);
    this.queries.take(change);
  }

  /** Rows that came or went: pages behind them begin so much later. What happens within a page is told by its first row. */
  private shiftLadder(change: Change) {
    const shift = change.blocks.length - change.removed;
    this.ladder = this.ladder.map((page) =>
      page.first_row !== null && page.first_row > change.at ? { ...page, first_row: Math.max(page.first_row + shift, change.at) } : page,
    );
  }

  private async refused(error: unknown, operation?: Operation, before?: readonly Inline[]) {
    if (error instanceof Refusal && error.name === 'unreachable' && operation) {
      this.wait(operation, before);
      notices.say('The server cannot be reached. What you do is kept in this browser and sent when it is there again.', undefined, 'wrong');
    } else if (error instanceof Refusal && error.name === 'parted') {
      this.parted = true;
      notices.say(error.message);
    } else if (error instanceof Refusal && error.name === 'stale' && operation?.op === 'edit_text' && (this.readAgain || this.opened?.document.busy)) {
      await this.sendOverReading(operation, before);
    } else if (error instanceof Refusal && error.name === 'stale') {
      this.epoch++;
      this.editing = null;
      this.revision = -1;
      await this.load();
      this.say(error.message, operation);
    } else if (!(error instanceof Refusal && error.name === 'history')) {
      this.say(error instanceof Error ? error.message : String(error), operation);
    }
  }

  /** Pages were read again while a text was open: what was typed is taken all the same if the new reading says there what was there before. */
  private async sendOverReading(operation: EditText, before?: readonly Inline[]) {
    this.epoch++;
    try {
      const newest = (await api.open(this.id)).document.revision;
      // The revision of this window stays: everything else that it shows is older.
      if ((await this.sendEntry({ revision: this.revision, operation, before }, newest, REREAD)) === null) this.editing = null;
      else {
        this.savedAt = new Date();
        this.show(operation.block, operation.content);
      }
      this.behind = true;
    } catch {
      this.wait(operation, before);
    }
    this.catchUp();
  }

  /** Says why something was not taken, with what was typed for it. */
  private say(sentence: string, operation?: Operation) {
    const typed = operation?.op === 'edit_text' ? readable(operation.content) : '';
    notices.say(sentence + (typed ? ` What you typed was: “${typed}”` : ''), undefined, 'wrong');
  }

  /** Keeps an operation until the server is there; what was typed is shown as it will be. */
  private wait(operation: Operation, before?: readonly Inline[]) {
    this.outbox.add({ revision: this.revision, operation, before });
    this.unsent = this.outbox.size;
    if (operation.op === 'edit_text') this.show(operation.block, operation.content);
    clearTimeout(this.retry);
    this.retry = setTimeout(() => void this.sendWaiting(), RETRY);
  }

  private show(id: string, content: readonly Inline[]) {
    this.blocks = this.blocks.map((block) => {
      if (block && isText(block) && block.id === id) return { ...block, content: [...content] };
      if (block && isTable(block) && block.cells.some((cell) => cell.texts.some((text) => text.id === id)))
        return {
          ...block,
          cells: block.cells.map((cell) => ({
            ...cell,
            texts: cell.texts.map((text) => (text.id === id ? { ...text, content: [...content] } : text)),
          })),
        };
      return block;
    });
  }

  /** Sends what waits, in its order. An edit of a text that has not changed meanwhile is made of the newest revision. */
  private sendWaiting(): Promise<unknown> {
    if (!this.outbox.size || this.closed) return Promise.resolve();
    this.saving++;
    const turn = this.queue.then(async () => {
      try {
        let newest = (await api.open(this.id)).document.revision;
        for (let entry = this.outbox.first; entry; entry = this.outbox.first) {
          newest = (await this.sendEntry(entry, newest, OVERTAKEN)) ?? newest;
          this.outbox.shift();
          const next = this.outbox.first;
          // What was done after it was made of what it made.
          if (next && next.revision === entry.revision) next.revision = newest;
          this.unsent = this.outbox.size;
        }
        this.unsent = 0;
        this.savedAt = new Date();
        this.revision = -1;
        await this.load();
        notices.say('The server is there again. What waited has been sent.');
      } catch {
        this.unsent = this.outbox.size;
        this.retry = setTimeout(() => void this.sendWaiting(), RETRY);
      } finally {
        this.saving--;
      }
    });
    this.queue = turn;
    return turn;
  }

  /**
   * Sends one entry; resolves to the newest revision then, null where it was not taken, which is said. Throws where the server is not
   * there: the entry has to wait on.
   */
  private async sendEntry({ revision, operation, before }: Waiting, newest: number, sentence: string): Promise<number | null> {
    if (revision !== newest) {
      const now = operation.op === 'edit_text' ? JSON.stringify(await this.textOnServer(operation.block)) : undefined;
      // It was sent before, and only the answer was lost.
      if (operation.op === 'edit_text' && now === JSON.stringify(operation.content)) return newest;
      if (now === undefined || now !== JSON.stringify(before)) {
        this.say(sentence, operation);
        return null;
      }
    }
    try {
      return (await api.operate(this.id, newest, operation)).revision;
    } catch (error) {
      if (error instanceof Refusal && error.name === 'unreachable') throw error;
      this.say(error instanceof Error ? error.message : String(error), operation);
      return null;
    }
  }

  /** A text as the server has it; undefined where it is no longer near the place that it had here. */
  private async textOnServer(id: string): Promise<readonly Inline[] | undefined> {
    const place = this.blocks.findIndex(
      (block) => block && (block.id === id || (isTable(block) && block.cells.some((cell) => cell.texts.some((text) => text.id === id)))),
    );
    if (place < 0) return undefined;
    const { blocks } = await api.rows(this.id, Math.max(place - WINDOW / 2, 0), WINDOW);
    for (const block of blocks) {
      const texts = isText(block) ? [block] : isTable(block) ? block.cells.flatMap((cell) => cell.texts) : [];
      const found = texts.find((text) => text.id === id);
      if (found) return found.content ?? [];
    }
    return undefined;
  }
}
