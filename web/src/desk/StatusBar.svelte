<script lang="ts">
  /** What is open and settled, what is going on with the pages, remarks, and whether all is saved. */
  import type { Proof } from '../state/proof.svelte';

  let { proof, list }: { proof: Proof; list: () => void } = $props();

  const remarks = $derived(proof.opened?.remarks ?? []);
  const counts = $derived(proof.queries.counts);
  const raised = $derived(counts ? (counts.open ?? 0) + (counts.left ?? 0) + (counts.settled ?? 0) : 0);
  const pages = $derived(proof.queries.byPage.size);
  const kinds = $derived(
    proof.queries.kinds
      .map((kind) => ({ kind, count: proof.queries.list.filter((one) => one.query.kind === kind.name).length }))
      .filter(({ count }) => count),
  );
  const underWay = $derived.by(() => {
    const document = proof.opened?.document;
    if (!document?.busy) return '';
    if (!document.again) return 'The files are being put into another order. You can go on.';
    return `Read again so far: ${document.again_read} of ${document.again === 1 ? '1 page' : `${document.again} pages`}. You can go on.`;
  });
  const saved = $derived.by(() => {
    if (proof.unsent) return proof.unsent === 1 ? '1 change waits for the server' : `${proof.unsent} changes wait for the server`;
    if (proof.saving) return 'Saving …';
    if (proof.savedAt) return `Saved ${proof.savedAt.toLocaleTimeString()}`;
    return 'All saved';
  });
</script>

<footer>
  <span>{proof.total === 1 ? '1 row' : `${proof.total} rows`}</span>
  {#if counts && raised}
    <button onclick={list}
      ><strong>{raised}</strong> {raised === 1 ? 'query' : 'queries'} on {pages === 1 ? '1 page' : `${pages} pages`} <kbd>I</kbd></button
    >
    <span class="bar" role="img" aria-label="{counts.settled ?? 0} of {raised} settled"
      ><span style:width="{(100 * (counts.settled ?? 0)) / raised}%"></span></span
    >
    <span
      >{counts.settled ?? 0} settled · {counts.open ?? 0} open{counts.left ? ` · ${counts.left} left for later` : ''}</span
    >
    <span class="kinds">{kinds.slice(0, 3).map(({ kind, count }) => `${kind.several} ${count}`).join(' · ')}</span>
  {/if}
  {#if underWay}<span class="under-way" role="status" title="What you correct meanwhile is kept.">{underWay}</span>{/if}
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
    gap: 6px 20px;
    align-items: center;
    min-height: 34px;
    padding: 0 18px;
    border-top: 1px solid var(--paper-edge);
    background: var(--paper-deep);
    color: var(--ink-soft);
    font-size: 13px;
    white-space: nowrap;
  }
  button {
    padding: 0;
    border: 0;
    background: none;
    color: var(--ink);
    font: inherit;
    cursor: pointer;
  }
  .bar {
    width: 120px;
    height: 6px;
    background: var(--paper-edge);
  }
  .bar span {
    display: block;
    height: 100%;
    background: var(--verdigris);
  }
  .kinds {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .under-way {
    padding: 2px 8px;
    background: var(--saffron-wash);
    color: var(--ink);
  }
  .saved {
    margin-left: auto;
  }
  details {
    position: relative;
  }
  summary {
    color: var(--ink);
    text-decoration: underline dotted var(--saffron);
    cursor: pointer;
  }
  ul {
    position: absolute;
    bottom: 26px;
    right: 0;
    z-index: 10;
    width: min(520px, 80vw);
    max-height: 50vh;
    overflow: auto;
    margin: 0;
    padding: 12px 12px 12px 28px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    color: var(--ink);
    list-style: disc;
    white-space: normal;
  }
  @media (max-width: 900px) {
    .kinds,
    .bar {
      display: none;
    }
    footer {
      flex-wrap: wrap;
      padding: 4px 12px;
    }
  }
</style>
