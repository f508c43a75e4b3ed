<script lang="ts">
  /** One's own account: another password, signing out. */
  import { Button, Modal, PasswordInput } from 'carbon-components-svelte';
  import { api } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import { session } from '../state/session.svelte';

  let { close }: { close: () => void } = $props();

  let old = $state('');
  let fresh = $state('');
  let problem = $state('');

  async function change() {
    problem = '';
    try {
      await api.changePassword(old, fresh);
      notices.say('The new password holds from now on. Other windows were signed out.');
      close();
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<Modal open passiveModal size="sm" modalHeading={session.person?.name ?? ''} selectorPrimaryFocus="#password-so-far" on:close={close}>
  <p class="quiet standing">{session.person?.role === 'lead' ? 'You are a lead: you give accounts to others.' : 'You are a clerk here.'}</p>
  <Button size="small" kind="tertiary" on:click={() => session.leave()}>Sign out</Button>
  <form
    onsubmit={(event) => {
      event.preventDefault();
      void change();
    }}
  >
    <h2>Another password</h2>
    <PasswordInput id="password-so-far" labelText="Password so far" autocomplete="current-password" tooltipPosition="left" bind:value={old} />
    <PasswordInput labelText="New password, 10 characters or more" autocomplete="new-password" tooltipPosition="left" bind:value={fresh} />
    {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
    <Button size="small" type="submit" disabled={!old || !fresh}>Change it</Button>
  </form>
</Modal>

<style>
  .standing {
    margin-bottom: 10px;
  }
  form {
    display: grid;
    gap: 12px;
    margin-top: 20px;
    padding-top: 12px;
    border-top: 1px solid var(--paper-edge);
  }
  form :global(.bx--btn) {
    justify-self: start;
  }
  h2 {
    margin: 0;
    font-size: 15px;
    font-weight: 650;
  }
  .problem {
    margin: 0;
    color: var(--alarm);
  }
</style>
