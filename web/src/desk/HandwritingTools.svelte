<script lang="ts">
  /** Handwriting as its text, its picture, or both; for this one or for all in the document. */
  import type { Block } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { keepHandwriting, type HandwritingAs } from './rowActions';

  let { proof, block }: { proof: Proof; block: Block } = $props();

  const CHOICES: readonly [HandwritingAs, string][] = [
    ['text', 'As text'],
    ['picture', 'As picture'],
    ['both', 'As both'],
  ];
  let all = $state(false);
</script>

<span class="group" role="group" aria-label="Keep the handwriting">
  {#each CHOICES as [choice, name] (choice)}
    <button disabled={proof.readOnly} onclick={() => keepHandwriting(proof, all ? null : block, choice)}>{name}</button>
  {/each}
  <label><input type="checkbox" bind:checked={all} /> all handwriting</label>
</span>

<style>
  .group {
    display: inline-flex;
    gap: 4px;
    align-items: center;
  }
</style>
