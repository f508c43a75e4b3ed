<script lang="ts">
  /** All queries as a list, with filters that hold for the slip too. */
  import { Modal } from 'carbon-components-svelte';
  import type { PlacedQuery } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import OfficeWords from './OfficeWords.svelte';

  let { proof, close }: { proof: Proof; close: () => void } = $props();

  const MOST = 400;
  const queries = $derived(proof.queries);
  const kinds = $derived(queries.kinds.filter((kind) => queries.list.some((one) => one.query.kind === kind.name)));
  const pages = $derived([...new Set(queries.list.map((one) => one.query.page))].sort((a, b) => a - b));
  let words = $state(false);

  function take(one: PlacedQuery) {
    queries.current = one.id;
    close();
  }
</script>

{#if words}
  <OfficeWords close={() => (words = false)} />
{:else}
  <Modal
    open
    size="lg"
    passiveModal
    hasScrollingContent
    modalHeading="Queries"
    selectorPrimaryFocus="#query-kind"
    on:close={close}
  >
    <div class="filters">
      <label
        >Kind
        <select
          id="query-kind"
          value={queries.filter.kind}
          onchange={(event) => (queries.filter = { ...queries.filter, kind: event.currentTarget.value })}
        >
          <option value="">every kind</option>
          {#each kinds as kind (kind.name)}<option value={kind.name}>{kind.several}</option>{/each}
        </select></label
      >
      <label
        >Page
        <select
          value={String(queries.filter.page)}
          onchange={(event) => (queries.filter = { ...queries.filter, page: Number(event.currentTarget.value) })}
        >
          <option value="0">every page</option>
          {#each pages as page (page)}{#if page}<option value={String(page)}>page {page}</option>{/if}{/each}
        </select></label
      >
      <label
        >Likely wrong from
        <select
          value={String(queries.filter.least)}
          onchange={(event) => (queries.filter = { ...queries.filter, least: Number(event.currentTarget.value) })}
        >
          {#each [0, 0.1, 0.2, 0.3, 0.5, 0.7, 0.9] as least (least)}<option value={String(least)}>{Math.round(least * 100)} %</option>{/each}
        </select></label
      >
      <label
        ><input
          type="checkbox"
          checked={queries.filter.left}
          onchange={(event) => (queries.filter = { ...queries.filter, left: event.currentTarget.checked })}
        /> with those left for later</label
      >
      <button class="plain" onclick={() => (words = true)}>The office’s word list</button>
    </div>
    <p class="quiet">{queries.shown.length} of {queries.list.length}</p>
    <ul>
      {#each queries.shown.slice(0, MOST) as one (one.id)}
        <li>
          <button onclick={() => take(one)}>
            <span class="page quiet">{one.query.page ? `page ${one.query.page}` : ''}</span>
            {#if one.query.end}
              <span class="text">{one.query.text}</span>
              <span class="answer">{one.query.answers?.length ? `→ ${one.query.answers[0]}` : ''}</span>
            {:else}
              <span class="row quiet">{one.query.context}</span>
            {/if}
            <span class="why quiet">{queries.kind(one.query.kind)?.one} · {one.query.reason}{one.left ? ' · left for later' : ''}</span>
            <span class="quiet">{Math.round(one.query.likelihood * 100)} %</span>
          </button>
        </li>
      {:else}
        <li class="quiet">There are no queries of this sort.</li>
      {/each}
    </ul>
    {#if queries.shown.length > MOST}<p class="quiet">And {queries.shown.length - MOST} more.</p>{/if}
  </Modal>
{/if}

<style>
  .filters {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 20px;
    align-items: center;
  }
  select {
    margin-left: 4px;
    padding: 3px 6px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
  }
  .plain {
    border: 0;
    background: none;
    color: var(--verdigris);
    font: inherit;
    text-decoration: underline;
    cursor: pointer;
  }
  p {
    margin: 8px 0;
  }
  ul {
    padding: 0;
    list-style: none;
  }
  li button {
    display: grid;
    grid-template-columns: 70px minmax(80px, 1fr) minmax(80px, 1fr) minmax(0, 2.2fr) 46px;
    gap: 10px;
    align-items: baseline;
    width: 100%;
    padding: 5px 4px;
    border: 0;
    border-bottom: 1px solid var(--paper-edge);
    background: none;
    color: var(--ink);
    font: inherit;
    text-align: left;
    cursor: pointer;
  }
  li button:hover {
    background: var(--verdigris-wash);
  }
  .text,
  .answer {
    overflow: hidden;
    font-family: var(--serif);
    font-size: 16px;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .row {
    grid-column: span 2;
  }
  @media (max-width: 700px) {
    li button {
      grid-template-columns: 60px 1fr 1fr;
    }
    .why {
      grid-column: 1 / -1;
    }
  }
</style>
