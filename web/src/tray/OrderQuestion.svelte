<script lang="ts">
  /** The files of a joined document in another order. */
  import { Modal } from 'carbon-components-svelte';
  import { untrack } from 'svelte';
  import { api, type DocumentRow } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import { tray } from '../state/tray.svelte';
  import FileOrder from './FileOrder.svelte';

  let { document, open = $bindable() }: { document: DocumentRow; open: boolean } = $props();

  let entries = $state<{ key: string; name: string; note: string }[]>([]);

  // Only when it is opened: what happens to the document meanwhile does not undo what was chosen here.
  $effect(() => {
    if (open) untrack(load);
  });

  async function load() {
    try {
      const files = await api.files(document.id);
      entries = files.map((file, n) => ({ key: String(n), name: file.name, note: file.pages > 1 ? `${file.pages} pages` : '' }));
    } catch (error) {
      notices.wrong(error);
    }
  }

  function apply() {
    open = false;
    void tray.order(
      document.id,
      entries.map((entry) => Number(entry.key)),
    );
  }
</script>

<Modal
  bind:open
  modalHeading="Order of the files"
  primaryButtonText="Put in this order"
  secondaryButtonText="Leave as it is"
  size="sm"
  on:click:button--primary={apply}
  on:click:button--secondary={() => (open = false)}
>
  <FileOrder bind:entries label="Order of the files" />
</Modal>
