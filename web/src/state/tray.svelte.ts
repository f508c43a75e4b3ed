/** The in-tray: all documents, files on their way in, and what can be done with them. */
import { api, send, Refusal, type DocumentRow, type Duplicate } from '../api/client';
import { subscribe } from './events';
import { notices } from './notices.svelte';

export interface Arriving {
  id: number;
  name: string;
  share: number;
}

const SETTLE_MILLISECONDS = 120;

let documents = $state<DocumentRow[]>([]);
let loaded = $state(false);
let arriving = $state<Arriving[]>([]);
let duplicates = $state<Duplicate[]>([]);
let joining = $state<DocumentRow[] | null>(null);
let last = 0;
let timer: ReturnType<typeof setTimeout> | undefined;

async function refresh() {
  try {
    documents = await api.list();
    loaded = true;
  } catch (error) {
    if (!loaded) notices.wrong(error);
  }
}

/** Many pages are read in a second; the list is asked for once they pause for a moment. */
function refreshSoon() {
  timer ??= setTimeout(() => {
    timer = undefined;
    void refresh();
  }, SETTLE_MILLISECONDS);
}

async function attempt(action: () => Promise<unknown>) {
  try {
    await action();
  } catch (error) {
    notices.wrong(error);
  }
  await refresh();
}

const isPicture = (file: File) => file.type.startsWith('image/') || /\.(tiff?|heic|heif)$/i.test(file.name);

async function take(file: File): Promise<DocumentRow | null> {
  const id = ++last;
  let taken: DocumentRow | null = null;
  arriving = [...arriving, { id, name: file.name, share: 0 }];
  try {
    taken = (await send(file, (share) => (arriving = arriving.map((one) => (one.id === id ? { ...one, share } : one))))).document;
  } catch (error) {
    if (error instanceof Refusal && error.name === 'duplicate') duplicates = [...duplicates, error.body as Duplicate];
    else notices.wrong(error);
  }
  arriving = arriving.filter((one) => one.id !== id);
  await refresh();
  return taken;
}

export const tray = {
  get documents() {
    return documents;
  },
  get loaded() {
    return loaded;
  },
  get arriving() {
    return arriving;
  },
  get duplicate() {
    return duplicates[0];
  },
  watch() {
    void refresh();
    return subscribe(refreshSoon);
  },
  get joining() {
    return joining;
  },
  /** Several pictures dropped together may be pages of one document: that is asked. */
  async takeIn(files: Iterable<File>) {
    const pictures: DocumentRow[] = [];
    for (const file of files) {
      const taken = await take(file);
      if (taken && isPicture(file)) pictures.push(taken);
    }
    if (pictures.length > 1) joining = pictures;
  },
  askToJoin(documents: DocumentRow[]) {
    joining = documents.length > 1 ? documents : null;
  },
  async join(ids: string[], name: string) {
    joining = null;
    await attempt(() => api.join(ids, name));
  },
  order: (id: string, places: number[]) => attempt(() => api.orderFiles(id, places)),
  settleDuplicate(again: boolean) {
    const [first, ...rest] = duplicates;
    duplicates = rest;
    if (first && again) void attempt(() => api.again(first.source, first.name));
  },
  rename: (id: string, name: string) => attempt(() => api.rename(id, name)),
  stop: (id: string) => attempt(() => api.stop(id)),
  read: (id: string) => attempt(() => api.read(id)),
  password: (id: string, password: string) => attempt(() => api.password(id, password)),
  rights: (id: string) => attempt(() => api.rights(id)),
  async remove(document: DocumentRow) {
    await attempt(() => api.remove(document.id));
    notices.say(`“${document.name}” was deleted.`, {
      name: 'Bring it back',
      run: () => void attempt(() => api.restore(document.id)),
    });
  },
};
