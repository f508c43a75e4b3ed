/** Lists of places in a document, such as its headings: asked for again whenever the document has changed. */
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';

/** What ``ask`` gives for the document, null until it is there. For use while a component is set up. */
export function entriesOf<Entry>(proof: Proof, ask: (document: string) => Promise<readonly Entry[]>): { readonly list: readonly Entry[] | null } {
  let list = $state.raw<readonly Entry[] | null>(null);

  async function load() {
    try {
      list = await ask(proof.id);
    } catch (error) {
      notices.wrong(error);
    }
  }

  $effect(() => {
    void proof.revision;
    void load();
  });

  return {
    get list() {
      return list;
    },
  };
}
