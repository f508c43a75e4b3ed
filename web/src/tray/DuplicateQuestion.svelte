<script lang="ts">
  import { Modal } from 'carbon-components-svelte';
  import { deskAddress } from '../state/route.svelte';
  import { tray } from '../state/tray.svelte';

  const duplicate = $derived(tray.duplicate);

  function openFirst() {
    const readable = duplicate?.documents.find((one) => one.revision > 0);
    tray.settleDuplicate(false);
    if (readable) location.hash = deskAddress(readable.id);
  }
</script>

<Modal
  open={duplicate !== undefined}
  modalHeading="This file is here already"
  primaryButtonText="Open the one that is here"
  secondaryButtonText="Take it in once more"
  size="sm"
  on:click:button--primary={openFirst}
  on:click:button--secondary={() => tray.settleDuplicate(true)}
  on:close={() => duplicate && tray.settleDuplicate(false)}
>
  <p>{duplicate?.sentence ?? ''}</p>
  <p>Taken in once more, it is read afresh and corrected apart from the first one.</p>
</Modal>

<style>
  p {
    margin: 0 0 0.8em;
    overflow-wrap: anywhere;
  }
</style>
