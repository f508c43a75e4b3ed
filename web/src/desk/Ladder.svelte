<script lang="ts">
  /** The ladder of pages: where the clerk is, and which pages have something to be said of them. */
  import type { Proof } from '../state/proof.svelte';

  let { proof, page, go }: { proof: Proof; page: number; go: (page: number) => void } = $props();

  const pages = $derived(proof.ladder);
  let ladder: HTMLElement;

  $effect(() => {
    ladder.querySelector(`[data-page="${page}"]`)?.scrollIntoView({ block: 'nearest' });
  });
</script>

<nav bind:this={ladder} aria-label="Pages">
  {#each pages as one (one.number)}
    <button
      data-page={one.number}
      class:here={one.number === page}
      class:unread={!one.kind}
      class:remark={one.remark}
      aria-current={one.number === page ? 'page' : undefined}
      disabled={one.first_row === null}
      title={one.remark || (one.kind ? `Page ${one.number}` : `Page ${one.number} is not read yet`)}
      onclick={() => go(one.number)}>{one.number}</button
    >
  {/each}
</nav>

<style>
  nav {
    grid-area: ladder;
    overflow-y: auto;
    padding: 8px;
    border-right: 1px solid var(--paper-edge);
    background: var(--paper-deep);
    scrollbar-width: thin;
  }
  button {
    position: relative;
    display: block;
    width: 100%;
    height: 30px;
    margin-bottom: 6px;
    padding: 0 6px;
    border: 1px solid #bdb198;
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    text-align: left;
    cursor: pointer;
  }
  button:disabled {
    color: #6f6a5e;
    cursor: default;
  }
  .unread {
    background: none;
    border-style: dashed;
  }
  .here {
    outline: 3px solid var(--verdigris);
    outline-offset: -1px;
    font-weight: 700;
  }
  .remark::after {
    content: '';
    position: absolute;
    right: 4px;
    bottom: 4px;
    width: 6px;
    height: 20px;
    background: var(--saffron);
  }
</style>
