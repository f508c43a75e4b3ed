<script lang="ts">
  import type { Proof } from '../state/proof.svelte';

  let { proof }: { proof: Proof } = $props();

  const remarks = $derived(proof.opened?.remarks ?? []);
  const saved = $derived.by(() => {
    if (proof.saving) return 'Saving …';
    if (proof.savedAt) return `Saved ${proof.savedAt.toLocaleTimeString()}`;
    return 'All saved';
  });
</script>

<footer>
  <span>{proof.total === 1 ? '1 row' : `${proof.total} rows`}</span>
  {#if remarks.length}
    <details>
      <summary>{remarks.length === 1 ? '1 remark' : `${remarks.length} remarks`}</summary>
      <ul>
        {#each remarks as remark, i (i)}<li>{remark.sentence}</li>{/each}
      </ul>
    </details>
  {/if}
  <span class="saved" role="status">{saved} · revision {proof.revision}</span>
</footer>

<style>
  footer {
    grid-area: status;
    display: flex;
    gap: 24px;
    align-items: center;
    min-height: 34px;
    padding: 0 18px;
    border-top: 1px solid var(--paper-edge);
    background: var(--paper-deep);
    color: var(--ink-soft);
    font-size: 13px;
  }
  .saved {
    margin-left: auto;
  }
  details {
    position: relative;
  }
  summary {
    color: var(--saffron);
    cursor: pointer;
  }
  ul {
    position: absolute;
    bottom: 26px;
    left: 0;
    width: min(520px, 80vw);
    max-height: 50vh;
    overflow: auto;
    margin: 0;
    padding: 12px 12px 12px 28px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    color: var(--ink);
    list-style: disc;
  }
</style>
