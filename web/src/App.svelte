<script lang="ts">
  import Deliver from './deliver/Deliver.svelte';
  import Desk from './desk/Desk.svelte';
  import Notices from './shared/Notices.svelte';
  import { route } from './state/route.svelte';
  import InTray from './tray/InTray.svelte';
</script>

{#if route.current.view === 'desk'}
  {#key route.current.id}<Desk id={route.current.id} />{/key}
{:else if route.current.view === 'deliver'}
  {#key route.current.id}<Deliver id={route.current.id} />{/key}
{:else}
  <InTray />
{/if}
<Notices />
