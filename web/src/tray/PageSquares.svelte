<script lang="ts">
  /** Pages as a row of small squares that fill as they are read; long documents share a square among several pages. */
  let { total, read, reading }: { total: number; read: number; reading: boolean } = $props();

  const MOST = 60;
  const squares = $derived(Math.min(total, MOST));
  const filled = $derived(Math.floor((read / total) * squares));
</script>

<div class="squares" role="img" aria-label={`${read} of ${total} pages read`}>
  {#each { length: squares } as _, i (i)}
    <span class:filled={i < filled} class:next={reading && i === filled}></span>
  {/each}
</div>

<style>
  .squares {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
  }
  span {
    width: 9px;
    height: 12px;
    border: 1px solid #b9ad94;
    background: var(--paper);
  }
  .filled {
    border-color: var(--verdigris);
    background: #a9cfc4;
  }
  .next {
    border-color: var(--verdigris);
    background: linear-gradient(to top, #a9cfc4 50%, var(--paper) 50%);
  }
</style>
