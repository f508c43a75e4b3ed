<script lang="ts">
  /** Signing in. What was being done in the window goes on where it was. */
  import { Button, PasswordInput, TextInput } from 'carbon-components-svelte';
  import { session } from '../state/session.svelte';

  let name = $state(session.person?.name ?? '');
  let password = $state('');
  let problem = $state('');
  let busy = $state(false);

  async function enter() {
    busy = true;
    problem = '';
    try {
      await session.enter(name, password);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
      password = '';
    }
    busy = false;
  }
</script>

<svelte:head><title>Sign in · Even Quill</title></svelte:head>

<div class="cover">
  <main>
    <p class="mark">Even Quill</p>
    <h1>Sign in</h1>
    <p class="quiet">
      {session.person ? 'You were signed out. What you typed is kept, and goes on its way when you are here again.' : 'A lead gives you your name and your first password.'}
    </p>
    <form
      onsubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      <TextInput labelText="Name" autocomplete="username" autofocus bind:value={name} />
      <PasswordInput labelText="Password" autocomplete="current-password" tooltipPosition="left" bind:value={password} />
      {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
      <Button type="submit" disabled={busy || !name.trim() || !password}>Sign in</Button>
    </form>
  </main>
</div>

<style>
  .cover {
    position: fixed;
    z-index: 9000;
    inset: 0;
    overflow: auto;
    background: var(--paper);
  }
  main {
    max-width: 440px;
    margin: 12vh auto 24px;
    padding: 28px 32px 32px;
    border: 1px solid var(--paper-edge);
    border-left: 6px solid var(--verdigris);
    background: var(--sheet);
  }
  .mark {
    margin: 0 0 18px;
    color: var(--verdigris);
    font-family: var(--serif);
    font-size: 30px;
    font-style: italic;
    font-weight: 700;
  }
  h1 {
    margin: 0 0 4px;
    font-size: 18px;
    font-weight: 650;
  }
  form {
    display: grid;
    gap: 16px;
    margin-top: 16px;
  }
  form :global(.bx--btn) {
    justify-self: start;
  }
  .problem {
    margin: 0;
    color: var(--alarm);
  }
  @media (max-width: 680px) {
    main {
      margin: 0;
      min-height: 100%;
      border-width: 0 0 0 6px;
    }
  }
</style>
