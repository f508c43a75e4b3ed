/** Requests to the server: each returns what the schema says or throws a Refusal with a sentence for the clerk. */
import { access } from './access';
import type { components } from './types';

type Schemas = components['schemas'];
export type SessionState = Schemas['SessionState'];
export type Person = Schemas['Person'];
export type DocumentRow = Schemas['DocumentRow'];
export type Opened = Schemas['Opened'];
export type PageInfo = Schemas['PageInfo'];
export type EquationEntry = Schemas['EquationEntry'];
export type FaultsOfKind = Schemas['FaultsOfKind'];
export type StyleUse = Schemas['StyleUse'];
export type TypefacesView = Schemas['TypefacesView'];
export type StandIn = Schemas['StandIn'];
export type Plainness = Schemas['Plainness'];
export type TemplateStyles = Schemas['TemplateStyles'];
export type Found = Schemas['Found'];
export type Hit = Schemas['Hit'];
export type Search = Schemas['Search'];
export type OutlineEntry = Schemas['OutlineEntry'];
export type PageEdges = Schemas['PageEdges'];
export type Changed = Schemas['Changed'];
export type Delivery = Schemas['Delivery'];
export type Format = Schemas['Format'];
export type ReturnedView = Schemas['ReturnedView'];
export type ReturnedChange = Schemas['ReturnedChange'];
export type OutcomeView = Schemas['OutcomeView'];
export type Check = Schemas['Check'];
export type FitView = Schemas['FitView'];
export type Misfit = Schemas['Misfit'];
export type RowPlaces = Schemas['RowPlaces'];
export type Duplicate = Schemas['Duplicate'];
export type TextBlock = Schemas['TextBlock'];
export type PictureBlock = Schemas['PictureBlock'];
export type TableBlock = Schemas['TableBlock'];
export type Cell = Schemas['Cell'];
export type Block = TextBlock | PictureBlock | TableBlock;
export type Inline = Schemas['Text'] | Schemas['Tab'] | Schemas['Break'] | Schemas['NoteRef'] | Schemas['Field'] | Schemas['InlinePicture'] | Schemas['Equation'];
export type Equation = Schemas['Equation'];
export type DrawnEquation = Schemas['DrawnEquation'];
export type TexCommand = Schemas['TexCommand'];
export type ReadEquation = Schemas['ReadEquation'];
export type News = Schemas['News'];
export type Focus = Schemas['Focus'];
export type DoubtKey = Schemas['DoubtKey'];
export type Role = Schemas['Role'];
export type Align = Schemas['Align'];
export type Lettering = Schemas['Lettering'];
export type ResolvedStyle = Schemas['ResolvedStyle'];
export type TabStop = Schemas['TabStop'];
export type Preparation = Schemas['Preparation'];
export type PageReading = Schemas['PageReading'];
export type PlacedQuery = Schemas['PlacedQuery'];
export type Query = Schemas['Query'];
export type QueryKind = Schemas['Kind'];
export type QueryCounts = Schemas['QueryCounts'];
export type WordAnswer = Schemas['WordAnswer'];
export type LookAlike = Schemas['WordPlace'];
export type OfficeList = Schemas['OfficeList'];
export type Work = Schemas['WorkDone'];
export type ReadRegion = Schemas['ReadRegion'];
export type CutNote = Schemas['CutNote'];
type PageRows = Omit<Schemas['PageRows'], 'blocks'> & { blocks: Block[] };
type FileOfDocument = Schemas['FileOfDocument'];
export type Operation = Schemas['OperationRequest']['operation'];
type Uploaded = Schemas['Uploaded'];
type RowsAnswer = Omit<Schemas['Window'], 'blocks'> & { blocks: Block[] };
export type Change = Omit<Changed, 'blocks'> & { blocks: Block[] };

/** The server said no, or could not be reached. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly name: string,
    sentence: string,
    readonly body: unknown = null,
  ) {
    super(sentence);
  }
}

const UNREACHABLE = 'The server cannot be reached. Try again in a moment.';
const TOKEN = 'X-Evenquill-Token';

function ask<T>(method: string, path: string, body?: unknown): Promise<T> {
  const raw = body instanceof Blob;
  return admitted(async () => {
    const headers: Record<string, string> = method === 'GET' ? {} : { [TOKEN]: access.token };
    if (body !== undefined && !raw) headers['Content-Type'] = 'application/json';
    let response: Response;
    try {
      response = await fetch(path, { method, headers, body: body === undefined ? undefined : raw ? body : JSON.stringify(body) });
    } catch {
      throw new Refusal(0, 'unreachable', UNREACHABLE);
    }
    return understood<T>(response.status, await response.text());
  });
}

/** What a request gives; one that is refused since nobody is signed in waits until somebody is, one with an old token gets the new one. */
async function admitted<T>(request: () => Promise<T>): Promise<T> {
  let renewed = false;
  for (;;) {
    try {
      return await request();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      if (error.name === 'sign-in') await access.signedIn();
      else if (error.name === 'token' && !renewed) {
        renewed = true;
        const state = await api.session();
        if (state.token) access.grant(state.token);
        else await access.signedIn();
      } else throw error;
    }
  }
}

function understood<T>(status: number, text: string): T {
  let answer: unknown = null;
  try {
    answer = text ? JSON.parse(text) : null;
  } catch {
    // An error page of something between us and the server.
  }
  if (status >= 200 && status < 300) return answer as T;
  const problem = answer as { error?: string; sentence?: string } | null;
  throw new Refusal(status, problem?.error ?? 'server', problem?.sentence ?? 'The server failed. Try again.', answer);
}

const document = (id: string) => `/api/documents/${encodeURIComponent(id)}`;

export const api = {
  session: () => ask<SessionState>('GET', '/api/session'),
  drawEquations: (equations: readonly Equation[], language: string) =>
    ask<Schemas['DrawnEquations']>('POST', '/api/equations/drawn', { equations, language }),
  texCommands: () => ask<TexCommand[]>('GET', '/api/equations/commands'),
  readEquation: (typed: string, display: boolean, language: string) => ask<ReadEquation>('POST', '/api/equations/read', { typed, display, language }),
  equationPicture: async (tree: Schemas['ToPicture']['tree'], display: boolean): Promise<Blob> => {
    const { png } = await ask<Schemas['EquationPicture']>('POST', '/api/equations/picture', { tree, display });
    return new Blob([Uint8Array.from(atob(png), (character) => character.charCodeAt(0))], { type: 'image/png' });
  },
  enter: (name: string, password: string) => ask<SessionState>('POST', '/api/session', { name, password }),
  leaveSession: () => ask<null>('DELETE', '/api/session'),
  changePassword: (old: string, fresh: string) => ask<null>('PUT', '/api/session/password', { old, new: fresh }),
  people: () => ask<Person[]>('GET', '/api/people'),
  addPerson: (name: string, password: string, role: Person['role']) => ask<Person[]>('POST', '/api/people', { name, password, role }),
  changePerson: (name: string, change: { role?: Person['role']; password?: string }) =>
    ask<Person[]>('PATCH', `/api/people/${encodeURIComponent(name)}`, change),
  removePerson: (name: string) => ask<Person[]>('DELETE', `/api/people/${encodeURIComponent(name)}`),
  list: () => ask<DocumentRow[]>('GET', '/api/documents'),
  again: (source: string, name: string) => ask<{ document: DocumentRow }>('POST', '/api/documents/again', { source, name }),
  rename: (id: string, name: string) => ask<DocumentRow>('PATCH', document(id), { name }),
  stop: (id: string) => ask<DocumentRow>('POST', `${document(id)}/stop`),
  read: (id: string) => ask<DocumentRow>('POST', `${document(id)}/read`),
  password: (id: string, password: string) => ask<DocumentRow>('POST', `${document(id)}/password`, { password }),
  rights: (id: string) => ask<DocumentRow>('POST', `${document(id)}/rights`),
  remove: (id: string) => ask<null>('DELETE', document(id)),
  restore: (id: string) => ask<DocumentRow>('POST', `${document(id)}/restore`),
  ladder: (id: string) => ask<PageInfo[]>('GET', `${document(id)}/ladder`),
  labels: (id: string) => ask<Schemas['Labels']>('GET', `${document(id)}/labels`),
  events: (since: number | null) => ask<News>('GET', `/api/events${since === null ? '' : `?since=${since}`}`),
  outline: (id: string) => ask<OutlineEntry[]>('GET', `${document(id)}/outline`),
  equations: (id: string) => ask<EquationEntry[]>('GET', `${document(id)}/equations`),
  open: (id: string) => ask<Opened>('GET', document(id)),
  rows: (id: string, start: number, count: number) =>
    ask<RowsAnswer>('GET', `${document(id)}/rows?start=${start}&count=${count}`),
  operate: (id: string, revision: number, operation: Operation) =>
    ask<Change>('POST', `${document(id)}/operations`, { revision, operation }),
  undo: (id: string, revision: number) => ask<Change>('POST', `${document(id)}/undo`, { revision }),
  redo: (id: string, revision: number) => ask<Change>('POST', `${document(id)}/redo`, { revision }),
  languages: () => ask<string[]>('GET', '/api/languages'),
  page: (id: string, page: number) => ask<PageReading>('GET', `${document(id)}/pages/${page}`),
  readAgain: (id: string, pages: number[], preparation: Preparation) =>
    ask<DocumentRow>('POST', `${document(id)}/again`, { pages, preparation }),
  readRowAgain: (id: string, block: string, languages: string[]) =>
    ask<ReadRegion>('POST', `${document(id)}/rows/${encodeURIComponent(block)}/again`, { languages }),
  readRegion: (id: string, page: number, box: readonly number[], preparation: Preparation, as_table: boolean) =>
    ask<ReadRegion>('POST', `${document(id)}/regions/read`, { page, box, preparation, as_table }),
  equationThere: (id: string, page: number, box: readonly number[]) =>
    ask<Schemas['EquationThere']>('POST', `${document(id)}/regions/equation`, { page, box }),
  cutRegion: (id: string, page: number, box: readonly number[]) =>
    ask<Schemas['CutPicture']>('POST', `${document(id)}/regions/cut`, { page, box }),
  pageRows: (id: string, page: number) => ask<PageRows>('GET', `${document(id)}/pages/${page}/rows`),
  join: (documents: string[], name: string) => ask<DocumentRow>('POST', '/api/documents/join', { documents, name }),
  files: (id: string) => ask<FileOfDocument[]>('GET', `${document(id)}/files`),
  orderFiles: (id: string, places: number[]) => ask<DocumentRow>('PUT', `${document(id)}/files`, { places }),
  addPicture: (file: Blob) => ask<Uploaded>('POST', '/api/pictures', file),
  changePicture: (picture: string, quarter_turns: number, box: [number, number, number, number]) =>
    ask<Uploaded>('POST', `/api/pictures/${picture}/changed`, { quarter_turns, box }),
  queries: (id: string) => ask<Schemas['QueryList']>('GET', `${document(id)}/queries`),
  leave: (id: string, queries: string[], left = true) =>
    ask<QueryCounts>('POST', `${document(id)}/queries/leave`, { queries, left }),
  alike: (id: string, block: string, start: number) =>
    ask<LookAlike[]>('GET', `${document(id)}/alike?block=${encodeURIComponent(block)}&start=${start}`),
  find: (id: string, wanted: { find: Search; becomes: string | null }) => ask<Found>('POST', `${document(id)}/find`, wanted),
  faults: (id: string) => ask<FaultsOfKind[]>('GET', `${document(id)}/faults`),
  styles: (id: string) => ask<StyleUse[]>('GET', `${document(id)}/styles`),
  typefaces: (id: string) => ask<TypefacesView>('GET', `${document(id)}/typefaces`),
  setOfficeStandIn: (name: string, stands: string) => ask<StandIn[]>('POST', '/api/typefaces', { name, stands }),
  looks: () => ask<string[]>('GET', '/api/looks'),
  look: (name: string) => ask<Schemas['OfficeLook']>('GET', `/api/looks/${encodeURIComponent(name)}`),
  keepLook: (name: string, styles: ResolvedStyle[]) => ask<string[]>('POST', '/api/looks', { name, styles }),
  dropLook: (name: string) => ask<string[]>('POST', '/api/looks/remove', { name }),
  templateStyles: (file: Blob) => ask<TemplateStyles>('POST', '/api/templates/styles', file),
  plainness: (id: string) => ask<Plainness>('GET', `${document(id)}/plain`),
  work: (id: string) => ask<Work>('GET', `${document(id)}/work`),
  words: () => ask<OfficeList>('GET', '/api/words'),
  addWord: (word: string, instead: string) => ask<OfficeList>('POST', '/api/words', { word, instead }),
  removeWords: (words: string[]) => ask<OfficeList>('POST', '/api/words/remove', { words }),
  importWords: (file: Blob) => ask<OfficeList>('POST', '/api/words/import', file),
  deliveries: (id: string) => ask<Delivery[]>('GET', `${document(id)}/deliveries`),
  bringBack: (id: string, file: Blob) => ask<ReturnedView>('POST', `${document(id)}/returned`, file),
  checks: (id: string) => ask<Check[]>('GET', `${document(id)}/checks`),
  outcome: (id: string) => ask<OutcomeView>('GET', `${document(id)}/outcome`),
  fit: (id: string, way: string) => ask<FitView>('GET', `${document(id)}/outcome/fits/${way}`),
  formats: () => ask<Format[]>('GET', '/api/formats'),
  deliver: (id: string, format: string, more: Omit<Schemas['DeliveryRequest'], 'format'> = {}) =>
    ask<Delivery>('POST', `${document(id)}/deliveries`, { format, ...more }),
};

/** Sends a file, telling how much of it has gone (0 to 1). */
export function send(file: File, progress: (share: number) => void): Promise<{ document: DocumentRow }> {
  return admitted(() => sendOnce(file, progress));
}

function sendOnce(file: File, progress: (share: number) => void): Promise<{ document: DocumentRow }> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api/documents?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader(TOKEN, access.token);
    request.upload.onprogress = (event) => progress(event.total ? event.loaded / event.total : 0);
    request.onerror = () => failed(new Refusal(0, 'unreachable', UNREACHABLE));
    request.onload = () => {
      try {
        done(understood(request.status, request.responseText));
      } catch (refusal) {
        failed(refusal);
      }
    };
    request.send(file);
  });
}

/** ``reading`` is whatever changes when a page is read again, so that no strip of an earlier reading is shown. */
export const stripAddress = (
  id: string,
  page: number,
  box: readonly number[] | null,
  scale: number,
  view: 'came' | 'cleaned',
  reading: number,
) =>
  `${document(id)}/strip?page=${page}&scale=${scale.toFixed(2)}&view=${view}&reading=${reading}` +
  (box ? `&box=${box.map((n) => n.toFixed(1)).join(',')}` : '');
export const pictureAddress = (picture: string) => `/api/pictures/${picture}`;
/** Where a table, or all of a document (XLSX only), is saved from. */
export const tableAddress = (id: string, block: string | null, format: 'xlsx' | 'csv') =>
  `${document(id)}/tables?format=${format}${block ? `&block=${encodeURIComponent(block)}` : ''}`;
export const deliveryAddress = (delivery: string) => `/api/deliveries/${delivery}/file`;

/** The first page in a format without pages, and what it says. */
export const previewAddress = (id: string, format: string, options: string[]) =>
  `${document(id)}/previews/${format}?options=${encodeURIComponent(options.join(','))}`;

/** A page of an outcome that was set. */
export const outcomePageAddress = (id: string, outcome: OutcomeView, page: number, scale: number) =>
  `${document(id)}/outcome/pages/${page}?revision=${outcome.revision}&way=${outcome.way}&scale=${scale.toFixed(2)}`;
