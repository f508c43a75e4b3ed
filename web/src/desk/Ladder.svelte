<script lang="ts">
  /** The ladder of pages: where the clerk is, and which pages have something to be said of them. */
  import type { PageInfo } from '../api/client';
  import type { Proof } from '../state/proof.svelte';

  let { proof, page, go }: { proof: Proof; page: number; go: (page: number) => void } = $props();

  const FULL = 12; // queries on a page that fill its bar

  const pages = $derived(proof.ladder);
  const doubts = $derived(proof.queries.byPage);
  const height = (page: number) => Math.max(Math.round((Math.min(doubts.get(page) ?? 0, FULL) / FULL) * 22), 3);

  function said(one: PageInfo): string {
    const count = doubts.get(one.number) ?? 0;
    const queries = count ? `, ${count === 1 ? '1 query' : `${count} queries`}` : '';
    const printed = one.label && one.label !== String(one.number) ? `, printed ${one.label}` : '';
    return one.kind ? `Page ${one.number}${printed}${queries}. ${one.remark}` : `Page ${one.number} is not read yet`;
  }
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
      aria-current={one.number === page ? 'page' : undefined}
      disabled={one.first_row === null}
      title={said(one)}
      onclick={() => go(one.number)}
      >{one.number}{#if one.kind && doubts.get(one.number)}<span class="doubts" style:height="{height(one.number)}px"></span>{/if}{#if one.remark}<span
          class="remark"
        ></span>{/if}</button
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
  .doubts {
    position: absolute;
    right: 4px;
    bottom: 3px;
    width: 6px;
    background: var(--saffron);
  }
  .remark {
    position: absolute;
    top: 4px;
    right: 14px;
    width: 6px;
    height: 6px;
    border: 1px solid var(--saffron);
    border-radius: 50%;
  }
</style>
