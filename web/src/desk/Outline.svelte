<script lang="ts">
  /** The document as its headings: a place to go to, and sections to move with all that belongs to them. */
  import { api, type OutlineEntry } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { entriesOf } from './entries.svelte';

  let { proof, go, close }: { proof: Proof; go: (place: number, block: string) => void; close: () => void } = $props();

  // svelte-ignore state_referenced_locally: the desk is made anew for another document
  const headings = entriesOf(proof, api.outline);
  const entries = $derived(headings.list ?? []);
  let dragged = $state<number | null>(null);
  let target = $state<number | null>(null);
  let list = $state<HTMLElement>();

  const kind = (entry: OutlineEntry, level: number) => ({ op: 'set_kind' as const, block: entry.block, role: 'heading' as const, level, ordered: false });

  function setLevel(entry: OutlineEntry, by: -1 | 1) {
    if (entry.run_in) return; // it goes with the section that it is in
    const level = entry.level + by;
    if (level >= 1 && level <= 9) void proof.send(kind(entry, level));
  }

  /** The entry after the section that begins at ``at``. */
  function endOf(at: number): number {
    const end = entries.findIndex((entry, i) => i > at && entry.level <= entries[at]!.level);
    return end < 0 ? entries.length : end;
  }

  function move(from: number, before: number) {
    if (entries[from]!.run_in || (before >= from && before <= endOf(from))) return;
    void proof.send({ op: 'move_heading', heading: entries[from]!.block, before: entries[before]?.block ?? null });
  }

  /** Moves a section past its neighbour. */
  function step(at: number, by: -1 | 1) {
    if (by > 0) {
      const next = endOf(at);
      if (next < entries.length) move(at, endOf(next));
    } else {
      let before = at - 1;
      while (before > 0 && entries[before]!.level > entries[at]!.level) before--;
      if (before >= 0) move(at, before);
    }
  }

  function pressed(event: KeyboardEvent, at: number) {
    const entry = entries[at]!;
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by && event.altKey) {
      if (!proof.readOnly) step(at, by);
    } else if (by) list?.querySelectorAll('button')[at + by]?.focus();
    else if (event.key === 'Escape') close();
    else if ((event.key === ']' || event.key === '[') && !proof.readOnly) setLevel(entry, event.key === ']' ? 1 : -1);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

{#if entries.length}
  <ol bind:this={list}>
    {#each entries as entry, i (entry.block)}
      <li>
        <button
          class:here={entry.block === proof.selected}
          class:target={target === i && dragged !== null}
          style:padding-left="{10 + (entry.level - 1) * 14}px"
          title={entry.run_in
            ? 'A heading that begins a paragraph; it moves with its section'
            : `Level ${entry.level}. [ and ] change the level, Alt ↑ and Alt ↓ move the section`}
          class:run-in={entry.run_in}
          draggable={!proof.readOnly && !entry.run_in}
          ondragstart={(event) => {
            event.dataTransfer?.setData('text/plain', entry.text);
            dragged = i;
          }}
          ondragend={() => (dragged = target = null)}
          ondragover={(event) => {
            if (dragged === null) return;
            event.preventDefault();
            target = i;
          }}
          ondrop={(event) => {
            event.preventDefault();
            if (dragged !== null) move(dragged, i);
            dragged = target = null;
          }}
          onclick={() => go(entry.place, entry.block)}
          onkeydown={(event) => pressed(event, i)}
          ><span class="text">{entry.text}</span>{#if entry.page}<span class="page">{proof.labelOf(entry.page)}</span>{/if}</button
        >
      </li>
    {/each}
  </ol>
{:else}
  <p>This document has no headings yet. Select a row and press H to make it one.</p>
{/if}

<style>
  ol {
    flex: 1;
    margin: 0;
    padding: 6px 0;
    overflow-y: auto;
    list-style: none;
  }
  li button {
    display: flex;
    gap: 8px;
    width: 100%;
    padding-block: 5px;
    padding-right: 10px;
    border: 0;
    border-top: 2px solid transparent;
    border-left: 3px solid transparent;
    background: none;
    color: var(--ink);
    font: inherit;
    font-size: 14px;
    text-align: left;
    cursor: pointer;
  }
  li button:hover {
    background: var(--paper);
  }
  .here {
    border-left-color: var(--verdigris) !important;
    font-weight: 650 !important;
  }
  .target {
    border-top-color: var(--verdigris) !important;
  }
  .text {
    flex: 1;
    overflow-wrap: anywhere;
  }
  .run-in .text {
    font-style: italic;
  }
  .page {
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  p {
    padding: 14px;
    color: var(--ink-soft);
  }
</style>
