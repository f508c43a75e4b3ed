<script lang="ts">
  /** The people who may sign in, for leads. */
  import { Button, Modal, PasswordInput, Select, SelectItem, TextInput } from 'carbon-components-svelte';
  import { api, type Person } from '../api/client';
  import { session } from '../state/session.svelte';

  let { close }: { close: () => void } = $props();

  let people = $state.raw<Person[]>([]);
  let problem = $state('');
  let name = $state('');
  let password = $state('');
  let role = $state<Person['role']>('clerk');
  /** Who is to get another password, and which. */
  let renewed = $state('');
  let renewal = $state('');

  async function take(answer: Promise<Person[]>): Promise<boolean> {
    problem = '';
    try {
      people = await answer;
      return true;
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
      // The list as it is, whatever was chosen in it.
      people = await api.people().catch(() => people);
      return false;
    }
  }
  void take(api.people());

  async function add() {
    if (!(await take(api.addPerson(name, password, role)))) return;
    name = password = '';
    // The button is of no use now, and would take the keys along.
    document.getElementById('person-name')?.focus();
  }

  async function give(one: Person, choice: HTMLSelectElement) {
    if (!(await take(api.changePerson(one.name, { role: choice.value as Person['role'] })))) choice.value = one.role;
  }

  async function renew() {
    if (await take(api.changePerson(renewed, { password: renewal }))) renewed = renewal = '';
  }

  const lastHere = (one: Person) =>
    one.used_at
      ? `here ${new Date(one.used_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}`
      : 'not signed in';
</script>

<Modal open passiveModal hasScrollingContent modalHeading="People" selectorPrimaryFocus="#person-name" on:close={close}>
  <p class="quiet">Who may sign in. Clerks do all the work on documents; leads also give accounts and take words off the office’s list.</p>
  {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
  <ul aria-label="Accounts">
    {#each people as one (one.name)}
      <li>
        <span class="name">{one.name}</span>
        <span class="quiet">{lastHere(one)}</span>
        <select aria-label="Role of {one.name}" value={one.role} onchange={(event) => void give(one, event.currentTarget)}>
          <option value="clerk">clerk</option>
          <option value="lead">lead</option>
        </select>
        <span class="actions">
          <button onclick={() => (renewed = renewed === one.name ? '' : one.name)} aria-expanded={renewed === one.name}>new password</button>
          <button
            disabled={one.name === session.person?.name}
            onclick={() => take(api.removePerson(one.name))}
            aria-label="Take the account of {one.name} away">take away</button
          >
        </span>
        {#if renewed === one.name}
          <form
            class="renew"
            onsubmit={(event) => {
              event.preventDefault();
              void renew();
            }}
          >
            <PasswordInput hideLabel labelText="New password of {one.name}" placeholder="new password" autocomplete="new-password" tooltipPosition="left" bind:value={renewal} />
            <Button size="field" type="submit" disabled={!renewal}>Give it</Button>
          </form>
        {/if}
      </li>
    {/each}
  </ul>
  <form
    class="add"
    onsubmit={(event) => {
      event.preventDefault();
      void add();
    }}
  >
    <TextInput id="person-name" labelText="Name" autocomplete="off" bind:value={name} />
    <PasswordInput labelText="First password" autocomplete="new-password" tooltipPosition="left" bind:value={password} />
    <Select labelText="Role" bind:selected={role}>
      <SelectItem value="clerk" text="clerk" />
      <SelectItem value="lead" text="lead" />
    </Select>
    <Button size="field" type="submit" disabled={!name.trim() || !password}>Add</Button>
  </form>
</Modal>

<style>
  ul {
    margin: 12px 0 20px;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 1fr 1fr 110px max-content;
    gap: 4px 12px;
    align-items: center;
    padding: 6px 0;
    border-bottom: 1px solid var(--paper-edge);
  }
  .name {
    overflow-wrap: anywhere;
    font-family: var(--serif);
    font-size: 16px;
  }
  select {
    padding: 5px 8px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    font: inherit;
  }
  .actions {
    display: flex;
    gap: 14px;
  }
  .actions button {
    padding: 4px 0;
    border: 0;
    background: none;
    color: var(--verdigris);
    font: inherit;
    cursor: pointer;
  }
  .actions button:disabled {
    color: var(--ink-soft);
    cursor: default;
  }
  .renew {
    grid-column: 1 / -1;
    display: grid;
    grid-template-columns: 1fr max-content;
    gap: 8px;
  }
  .add {
    display: grid;
    grid-template-columns: 1fr 1fr 110px max-content;
    gap: 12px;
    align-items: end;
  }
  .problem {
    color: var(--alarm);
  }
  @media (max-width: 680px) {
    li,
    .add {
      grid-template-columns: 1fr 1fr;
    }
  }
</style>
