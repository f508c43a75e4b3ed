<script lang="ts">
  /** A button that opens a list of actions. Arrows walk through it, Enter does, Escape closes. */
  import { tick } from 'svelte';

  interface Action {
    name: string;
    act: () => unknown;
    disabled?: boolean;
  }
  interface Props {
    label: string;
    title?: string;
    /** Groups of actions, parted by lines. */
    groups: readonly (readonly Action[])[];
  }
  let { label, title = '', groups }: Props = $props();

  const ROOM = 330; // pixels that a list needs below its button

  let open = $state(false);
  let above = $state(false);
  let button: HTMLButtonElement;
  let list = $state<HTMLElement>();

  const items = () => [...(list?.querySelectorAll<HTMLButtonElement>('button:not(:disabled)') ?? [])];

  async function show(last = false) {
    const { top, bottom } = button.getBoundingClientRect();
    above = innerHeight - bottom < ROOM && top > innerHeight - bottom;
    open = true;
    await tick();
    items().at(last ? -1 : 0)?.focus();
  }

  function close() {
    open = false;
    button.focus();
  }

  function pressed(event: KeyboardEvent) {
    if (!open) {
      if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
      void show(event.key === 'ArrowUp');
    } else {
      const all = items();
      const at = all.indexOf(document.activeElement as HTMLButtonElement);
      if (event.key === 'Escape') close();
      else if (event.key === 'ArrowDown') all[(at + 1) % all.length]?.focus();
      else if (event.key === 'ArrowUp') all.at(at <= 0 ? -1 : at - 1)?.focus();
      else if (event.key === 'Home') all[0]?.focus();
      else if (event.key === 'End') all.at(-1)?.focus();
      else return;
    }
    event.preventDefault();
    event.stopPropagation();
  }

  function left(event: FocusEvent) {
    if (!(event.relatedTarget instanceof Node) || !(event.currentTarget as HTMLElement).contains(event.relatedTarget)) open = false;
  }
</script>

<div class="menu" role="presentation" onkeydown={pressed} onfocusout={left}>
  <button bind:this={button} {title} aria-haspopup="menu" aria-expanded={open} onclick={() => (open ? close() : void show())}
    >{label} <span class="sign" aria-hidden="true">{open ? '–' : '+'}</span></button
  >
  {#if open}
    <div class="list" class:above role="menu" aria-label={label} tabindex="-1" bind:this={list}>
      {#each groups as group, n (n)}
        {#if n}<hr />{/if}
        {#each group as one (one.name)}
          <button
            role="menuitem"
            tabindex="-1"
            disabled={one.disabled}
            onclick={() => {
              close();
              one.act();
            }}>{one.name}</button
          >
        {/each}
      {/each}
    </div>
  {/if}
</div>

<style>
  .menu {
    position: relative;
  }
  .sign {
    color: var(--ink-soft);
  }
  .list {
    position: absolute;
    z-index: 20;
    top: calc(100% + 3px);
    left: 0;
    display: flex;
    flex-direction: column;
    min-width: max-content;
    max-height: min(60vh, 420px);
    overflow-y: auto;
    padding: 4px;
    border: 1px solid var(--verdigris);
    border-radius: 3px;
    background: var(--sheet);
    box-shadow: 0 3px 12px rgb(0 0 0 / 18%);
  }
  .above {
    top: auto;
    bottom: calc(100% + 3px);
  }
  .list button {
    flex: none;
    border: 0;
    background: none;
    text-align: left;
  }
  .list button:focus-visible {
    outline: 2px solid var(--verdigris);
    outline-offset: -2px;
  }
  hr {
    width: 100%;
    margin: 4px 0;
    border: 0;
    border-top: 1px solid var(--paper-edge);
  }
</style>
