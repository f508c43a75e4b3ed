<script lang="ts">
  /** Several files as one document: which, in what order, under what name. */
  import { Modal, TextInput } from 'carbon-components-svelte';
  import { tray } from '../state/tray.svelte';
  import FileOrder from './FileOrder.svelte';

  const joining = $derived(tray.joining);
  let entries = $state<{ key: string; name: string; note: string }[]>([]);
  let name = $state('');

  $effect(() => {
    if (!joining) return;
    entries = joining.map((one) => ({ key: one.id, name: one.name, note: one.page_count > 1 ? `${one.page_count} pages` : '' }));
    name = joining[0]?.name ?? '';
  });

  function join() {
    void tray.join(
      entries.map((entry) => entry.key),
      name,
    );
  }
</script>

<Modal
  open={joining !== null}
  modalHeading="One document or {joining?.length ?? 0}?"
  primaryButtonText="Join into one document"
  secondaryButtonText="Keep them apart"
  size="sm"
  on:click:button--primary={join}
  on:click:button--secondary={() => tray.askToJoin([])}
  on:close={() => tray.askToJoin([])}
>
  <p>Joined, they are pages of one document in this order:</p>
  <FileOrder bind:entries label="Order of the files" />
  <TextInput size="sm" labelText="Name of the document" bind:value={name} />
</Modal>

<style>
  p {
    margin: 0 0 0.8em;
  }
</style>
