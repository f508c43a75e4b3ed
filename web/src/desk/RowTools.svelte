<script lang="ts">
  /** The strip of tools under the row in hand: those of its kind, then those that every row has. */
  import type { Snippet } from 'svelte';
  import type { Block } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { moveRows, setAside } from './rowActions';

  interface Props {
    proof: Proof;
    block: Block;
    place: number;
    flush?: () => void;
    children: Snippet;
  }
  let { proof, block, place, flush = () => {}, children }: Props = $props();

  function after(action: () => void) {
    flush();
    action();
  }
</script>

<div class="tools" role="toolbar" aria-label="Tools for row {place + 1}">
  {@render children()}
  <button disabled={place === 0} onclick={() => after(() => moveRows(proof, [block], -1))} title="Move up (Alt ↑)">Up</button>
  <button disabled={place === proof.total - 1} onclick={() => after(() => moveRows(proof, [block], 1))} title="Move down (Alt ↓)">Down</button>
  <button onclick={() => after(() => setAside(proof, [block]))} title="Keep it out of the result (X)">Set aside</button>
</div>

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    margin-top: 8px;
  }
  .tools :global(:is(button, select, input)) {
    height: 28px;
    padding: 0 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--paper);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    cursor: pointer;
  }
  .tools :global(input) {
    cursor: text;
  }
  .tools :global(:is(button, select):hover:not(:disabled)) {
    border-color: var(--verdigris);
    background: var(--verdigris-wash);
  }
  .tools :global(button:disabled) {
    color: #857f72;
    cursor: default;
  }
  .tools :global(label) {
    display: flex;
    gap: 6px;
    align-items: center;
    font-size: 13px;
  }
</style>
