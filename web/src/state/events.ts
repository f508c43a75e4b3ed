/**
 * What the server tells of documents as they change: asked for again and again, so that no window holds a connection open.
 * A window that is looked at asks often; one in the background seldom.
 */
import { api } from '../api/client';
import { health } from './health.svelte';

type Listener = (document: string) => void;

const OFTEN = 900; // milliseconds
const SELDOM = 6000;

const listeners = new Set<Listener>();
let number: number | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;
let asking = false;
let missed = false;

function publish(document: string) {
  listeners.forEach((listener) => listener(document));
}

async function ask() {
  if (asking) return;
  asking = true;
  clearTimeout(timer);
  try {
    const known = number;
    const news = await api.events(number);
    number = news.number;
    health.take(news.problems ?? []);
    // At first, what there is has just been asked for.
    if (news.everything) (known === null && !missed) || publish('');
    else news.documents?.forEach(publish);
  } catch {
    // The server cannot be reached; who needs it says so.
    missed = true;
  } finally {
    asking = false;
    if (listeners.size) timer = setTimeout(ask, document.hidden ? SELDOM : OFTEN);
  }
}

/** Hears of each change until the returned function is called; the empty string means: anything may have changed. */
export function subscribe(listener: Listener): () => void {
  listeners.add(listener);
  if (listeners.size === 1) {
    document.addEventListener('visibilitychange', ask);
    addEventListener('online', ask);
  }
  void ask();
  return () => {
    listeners.delete(listener);
    if (listeners.size) return;
    clearTimeout(timer);
    document.removeEventListener('visibilitychange', ask);
    removeEventListener('online', ask);
  };
}
