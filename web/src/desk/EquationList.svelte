<script lang="ts">
  /** All equations of the document, drawn: a place to walk through them and to open each. */
  import { api, type EquationEntry } from '../api/client';
  import { drawInto } from '../shared/equations';
  import type { Proof } from '../state/proof.svelte';
  import { entriesOf } from './entries.svelte';

  let { proof, open, close }: { proof: Proof; open: (entry: EquationEntry) => void; close: () => void } = $props();

  // svelte-ignore state_referenced_locally: the desk is made anew for another document
  const equations = entriesOf(proof, api.equations);
  const entries = $derived(equations.list);
  let withinLines = $state(false);
  let list = $state<HTMLElement>();

  const displayed = $derived((entries ?? []).filter((entry) => entry.equation.display));
  const shown = $derived(withinLines || !displayed.length ? (entries ?? []) : displayed);

  const numbered = $derived(shown.some((entry) => entry.equation.number));

  const isHere = (entry: EquationEntry) =>
    proof.equation ? proof.equation.block === entry.text && proof.equation.at === entry.at : proof.selected === entry.row;

  // A long document has thousands; each is drawn when it comes into view.
  const seen = new IntersectionObserver((changes) => {
    for (const { isIntersecting, target } of changes) {
      if (!isIntersecting) continue;
      seen.unobserve(target);
      (target as HTMLElement & { drawIt?: () => void }).drawIt?.();
    }
  });

  function drawing(place: HTMLElement & { drawIt?: () => void }, entry: EquationEntry) {
    const draw = (one: EquationEntry) => {
      place.drawIt = () => drawInto(place, one.equation, proof.opened?.language);
      seen.observe(place);
    };
    draw(entry);
    return { update: draw, destroy: () => seen.unobserve(place) };
  }

  function pressed(event: KeyboardEvent, at: number) {
    const buttons = list?.querySelectorAll('button');
    if (event.key === 'ArrowDown') buttons?.[at + 1]?.focus();
    else if (event.key === 'ArrowUp') buttons?.[at - 1]?.focus();
    else if (event.key === 'Home') buttons?.[0]?.focus();
    else if (event.key === 'End') buttons?.[buttons.length - 1]?.focus();
    else if (event.key === 'Escape') close();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

{#if entries && entries.length}
  <p>
    {displayed.length} displayed, {entries.length - displayed.length} within lines.
    {#if displayed.length && displayed.length < entries.length}
      <label><input type="checkbox" bind:checked={withinLines} /> List those within lines, too</label>
    {/if}
  </p>
  <ol bind:this={list}>
    {#each shown as entry, i (entry.text + ' ' + entry.at)}
      <li>
        <button
          class:here={isHere(entry)}
          title="Go to it and open it"
          onclick={() => open(entry)}
          onkeydown={(event) => pressed(event, i)}
          >{#if numbered}<span class="number">{entry.equation.number ?? ''}</span>{/if}
          <span class="drawn"><span use:drawing={entry}>∑</span></span>
          {#if entry.page && proof.ladder.length > 1}<span class="page"><span class="unseen">page</span> {proof.labelOf(entry.page)}</span>{/if}</button
        >
      </li>
    {/each}
  </ol>
{:else if entries}
  <p>This document has no equations. Select a row and press Shift F to read its place as one.</p>
{/if}

<style>
  p {
    margin: 0;
    padding: 8px 14px;
    border-bottom: 1px solid var(--paper-edge);
    color: var(--ink-soft);
    font-size: 13px;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 26px;
    color: var(--ink);
  }
  ol {
    flex: 1;
    margin: 0;
    padding: 6px 0;
    overflow-y: auto;
    list-style: none;
  }
  li {
    min-height: 40px;
    content-visibility: auto;
    contain-intrinsic-height: auto 44px;
  }
  button {
    display: flex;
    gap: 8px;
    align-items: baseline;
    width: 100%;
    padding: 8px 10px;
    border: 0;
    border-bottom: 1px solid var(--paper-edge);
    border-left: 3px solid transparent;
    background: none;
    color: var(--ink);
    font: inherit;
    font-size: 14px;
    text-align: left;
    cursor: pointer;
  }
  button:hover {
    background: var(--paper);
  }
  .here {
    border-left-color: var(--verdigris);
    background: var(--verdigris-wash);
  }
  .drawn {
    flex: 1;
    min-width: 0;
    max-height: 7em;
    overflow: hidden;
    mask-image: linear-gradient(to right, black calc(100% - 18px), transparent);
  }
  .drawn :global(.equation) {
    background: none;
  }
  .number,
  .page {
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  .number {
    min-width: 2.2em;
  }
  .unseen {
    position: absolute;
    overflow: hidden;
    width: 1px;
    height: 1px;
    clip-path: inset(50%);
    white-space: nowrap;
  }
</style>
