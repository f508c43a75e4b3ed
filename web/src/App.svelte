<script lang="ts">
  import { onMount } from 'svelte';
  import Deliver from './deliver/Deliver.svelte';
  import Desk from './desk/Desk.svelte';
  import SignIn from './people/SignIn.svelte';
  import Notices from './shared/Notices.svelte';
  import { route } from './state/route.svelte';
  import { session } from './state/session.svelte';
  import InTray from './tray/InTray.svelte';

  onMount(() => session.load());
</script>

{#if session.known}
  <div class="views" inert={session.asked}>
    {#if route.current.view === 'desk'}
      {#key route.current.id}<Desk id={route.current.id} />{/key}
    {:else if route.current.view === 'deliver'}
      {#key route.current.id}<Deliver id={route.current.id} />{/key}
    {:else}
      <InTray />
    {/if}
  </div>
{/if}
{#if session.asked}<SignIn />{/if}
<Notices />

<style>
  .views {
    display: contents;
  }
</style>
