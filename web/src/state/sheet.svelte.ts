/** One page of the source with its regions: which rows came from where, which is in hand, and what is done to them. */
import { api, type Block, type CutNote, type Operation, type Preparation, type ReadRegion } from '../api/client';
import { isPicture, isTable, isText } from '../shared/blocks';
import { notices } from './notices.svelte';
import type { Proof } from './proof.svelte';

export type Area = readonly [number, number, number, number];

/** One outline: a row's spot on the page. ``order`` is the row's place among the rows of the page, from 1. */
export interface Region {
  key: string;
  block: Block;
  place: number;
  area: Area;
  order: number;
}

/** A place that was drawn, moved or is to be read again, with what is read there once that is known. */
export interface Pending {
  region: Region | null;
  area: Area;
  read: ReadRegion | null;
  reading: boolean;
  /** Lines stay rows, with their cells apart, as in a table. */
  rows: boolean;
}

const areaOf = (spot: unknown) => (spot as [number, Area])[1];
const pageOf = (spot: unknown) => (spot as [number, Area])[0];
export const spotOf = (page: number, area: Area) => [page, area.map((n) => Math.round(n * 100) / 100)] as unknown as never;

export class SheetPage {
  blocks = $state.raw<Block[]>([]);
  width = $state(595);
  height = $state(842);
  reading = $state(0);
  /** Rows in hand, by id; the last one chosen is the last. */
  chosen = $state.raw<readonly string[]>([]);
  pointed = $state<string | null>(null);
  pending = $state.raw<Pending | null>(null);
  loaded = $state(0);
  /** How often the rows were asked for: an answer that comes after that of a later question is out of date. */
  private asked = 0;

  constructor(
    readonly proof: Proof,
    private readonly page: () => number,
  ) {}

  get number() {
    return this.page();
  }

  readonly regions = $derived.by((): Region[] =>
    this.blocks.flatMap((block, n) =>
      (block.spots ?? []).flatMap((spot, place) =>
        pageOf(spot) === this.loaded ? [{ key: `${block.id} ${place}`, block, place, area: areaOf(spot), order: n + 1 }] : [],
      ),
    ),
  );

  readonly inHand = $derived(this.blocks.find((block) => block.id === this.chosen.at(-1)));

  async load() {
    const number = this.number;
    const asked = ++this.asked;
    try {
      const rows = await api.pageRows(this.proof.id, number);
      if (number !== this.number || asked !== this.asked) return;
      this.blocks = rows.blocks;
      this.width = rows.width;
      this.height = rows.height;
      this.reading = rows.reading;
      this.loaded = number;
      this.chosen = this.chosen.filter((id) => rows.blocks.some((block) => block.id === id));
    } catch (error) {
      notices.wrong(error);
    }
  }

  choose(id: string, more = false) {
    this.chosen = more ? [...this.chosen.filter((other) => other !== id), id] : [id];
    this.proof.selected = id;
  }

  /** Reads a place; what is read waits until the clerk takes it. */
  async readPlace(region: Region | null, area: Area, preparation: Preparation = {}, rows = false) {
    this.pending = { region, area, read: null, reading: true, rows };
    try {
      const read = await api.readRegion(this.proof.id, this.number, area, preparation, rows);
      if (this.pending?.area === area) this.pending = { region, area, read, reading: false, rows };
    } catch (error) {
      this.pending = null;
      notices.wrong(error);
    }
  }

  /** Takes what was read at the pending place, or the old text with the new outline. */
  async take(read: ReadRegion) {
    const pending = this.pending;
    if (!pending) return;
    this.pending = null;
    const spot = spotOf(this.number, pending.area);
    if (pending.region)
      await this.proof.send({ op: 'region', block: pending.region.block.id, place: pending.region.place, spot, read });
    else await this.add({ op: 'add_region', spot, read });
  }

  /** Reads a place as a displayed equation: a new row, or in the place of one that is there. */
  async equation(region: Region | null, area: Area) {
    this.pending = null;
    try {
      const there = await api.equationThere(this.proof.id, this.number, area);
      if (!there.tree) return notices.say('No equation can be read there.');
      const spot = spotOf(this.number, area);
      const equation = { type: 'equation' as const, tree: there.tree, display: true };
      if (region) await this.proof.send({ op: 'region', block: region.block.id, place: region.place, spot, equation });
      else await this.add({ op: 'add_region', spot, equation });
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Cuts a picture out of a place, as a new row or in the place of a picture that is there. */
  async cut(region: Region | null, area: Area, note: CutNote = '') {
    this.pending = null;
    try {
      const picture = await api.cutRegion(this.proof.id, this.number, area);
      const spot = spotOf(this.number, area);
      if (region) await this.proof.send({ op: 'region', block: region.block.id, place: region.place, spot, picture, note });
      else await this.add({ op: 'add_region', spot, picture });
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Adds a row and takes it in hand; no other is in hand meanwhile, so that no key meant for the new one reaches the old. */
  private async add(operation: Operation) {
    this.chosen = [];
    const change = await this.proof.send(operation);
    if (!change?.focus) return;
    await this.load();
    this.choose(change.focus.block);
  }

  /** An outline was moved or drawn larger: text is read anew, pictures are cut anew. */
  moved(region: Region, area: Area) {
    if (!isPicture(region.block)) void this.readPlace(region, area, {}, isTable(region.block));
    else void this.cut(region, area);
  }

  /** Parts a row between the lines above and below a height on the page. */
  splitAt(region: Region, y: number) {
    if (!isText(region.block)) return notices.say('Only text can be split.');
    const words = (region.block.words ?? []) as unknown as [number, number, number, Area][];
    const below = words.find(([, , page, box]) => page === this.number && (box[1] + box[3]) / 2 > y);
    if (!below || below[0] === 0) return notices.say('There is no text on one side of that place.');
    void this.proof.send({ op: 'split', block: region.block.id, offset: below[0] });
  }

  /** Joins the rows in hand, in their order. */
  async merge() {
    const ids = this.blocks.filter((block) => this.chosen.includes(block.id)).map((block) => block.id);
    if (ids.length < 2) return notices.say('Choose a second region with Shift and a click, or with Shift and an arrow.');
    for (const second of ids.slice(1)) if (!(await this.proof.send({ op: 'join', first: ids[0]!, second }))) return;
    this.choose(ids[0]!);
  }

  remove() {
    const block = this.inHand;
    if (block) void this.proof.send({ op: 'remove_region', block: block.id });
  }

  /** One place earlier or later in the order of the page. */
  move(by: -1 | 1) {
    const at = this.blocks.findIndex((block) => block.id === this.chosen.at(-1));
    const block = this.blocks[at];
    const beside = this.blocks[at + by];
    if (!block || !beside) return;
    void this.proof.send({ op: 'move', block: block.id, ...(by < 0 ? { before: beside.id } : { after: beside.id }) });
  }

  step(by: -1 | 1, more: boolean) {
    const at = this.blocks.findIndex((block) => block.id === this.chosen.at(-1));
    const next = this.blocks[at < 0 ? 0 : at + by];
    if (next) this.choose(next.id, more);
  }
}
