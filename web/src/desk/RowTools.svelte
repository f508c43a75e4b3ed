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
    /** Whether it has buttons to move the row. */
    moves?: boolean;
    children: Snippet;
  }
  let { proof, block, place, flush = () => {}, moves = true, children }: Props = $props();

  function after(action: () => void) {
    flush();
    action();
  }
</script>

<div class="small-tools" role="toolbar" aria-label="Tools for row {place + 1}">
  {@render children()}
  {#if moves}
    <button disabled={place === 0} onclick={() => after(() => moveRows(proof, [block], -1))} title="Move up (Alt ↑)">Up</button>
    <button disabled={place === proof.total - 1} onclick={() => after(() => moveRows(proof, [block], 1))} title="Move down (Alt ↓)">Down</button>
  {/if}
  <button onclick={() => after(() => setAside(proof, [block]))} title="Keep it out of the result (X)">Set aside</button>
</div>

<style>
  .small-tools {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    margin-top: 8px;
  }
</style>
