/** What the server tells of documents as they change. One stream for the whole window. */
type Listener = (document: string) => void;

const listeners = new Set<Listener>();
let stream: EventSource | null = null;

/** Hears of each change until the returned function is called; the empty string means: anything may have changed. */
export function hear(listener: Listener): () => void {
  listeners.add(listener);
  if (!stream) {
    stream = new EventSource('/api/events');
    stream.onmessage = (event) => listeners.forEach((told) => told(event.data));
    stream.onopen = () => listeners.forEach((told) => told(''));
  }
  return () => listeners.delete(listener);
}
