<script lang="ts">
  /** The cut-outs of words that look like the one in hand: all are settled together but those that are struck out. */
  import { Modal } from 'carbon-components-svelte';
  import { stripAddress, type LookAlike, type PlacedQuery } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { SvelteSet } from 'svelte/reactivity';

  let { proof, standing, others, close }: { proof: Proof; standing: PlacedQuery; others: LookAlike[]; close: () => void } = $props();

  const query = $derived(standing.query);
  // svelte-ignore state_referenced_locally: what the sheet was opened with
  let text = $state(standing.query.answers?.[0] ?? standing.query.text);
  const struck = new SvelteSet<string>();
  const key = (one: LookAlike) => `${one.block} ${one.start}`;
  const kept = $derived(others.filter((one) => !struck.has(key(one))));

  const strip = (page: number, box: readonly number[]) =>
    stripAddress(proof.id, page, [box[0]! - 3, box[1]! - 2, box[2]! + 3, box[3]! + 2], 3, proof.view, proof.pages.get(page)?.reading ?? 0);

  /** The word as it will read: signs around it stay its own. */
  function answered(one: LookAlike): string {
    const core = /^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu;
    const own = one.text.replace(core, '');
    return own ? one.text.replace(own, text.replace(core, '')) : text;
  }

  function settle() {
    proof.queries.settleAlike(
      text,
      kept
        .filter((one) => answered(one) !== one.text)
        .map((one) => ({ block: one.block, start: one.start, spot: [one.page, one.box], read: one.text, text: answered(one), typed: false })),
    );
    close();
  }

  function strike(one: LookAlike) {
    if (struck.has(key(one))) struck.delete(key(one));
    else struck.add(key(one));
  }
</script>

<Modal
  open
  size="lg"
  hasScrollingContent
  modalHeading="Words that look alike"
  primaryButtonText="Settle {kept.length + 1} words"
  secondaryButtonText="Leave them"
  primaryButtonDisabled={!text.trim()}
  selectorPrimaryFocus="#alike-text"
  on:click:button--primary={settle}
  on:click:button--secondary={close}
  on:close={close}
  on:submit={settle}
>
  <p class="first">
    “{query.text}” and the words below are to read
    <input id="alike-text" bind:value={text} aria-label="What they are to read" autocomplete="off" spellcheck="false" />
  </p>
  <p class="quiet">Strike out what is another word.</p>
  <ul>
    {#each others as one (key(one))}
      <li class:out={struck.has(key(one))}>
        <button aria-pressed={struck.has(key(one))} onclick={() => strike(one)}>
          <img src={strip(one.page, one.box as unknown as number[])} alt="Cut out of page {one.page}" />
          <span class="reads">{one.text} → {answered(one)}</span>
          <span class="quiet">page {one.page}{struck.has(key(one)) ? ', struck out' : ''}</span>
        </button>
      </li>
    {/each}
  </ul>
</Modal>

<style>
  .first {
    font-size: 16px;
  }
  input {
    padding: 3px 8px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    font-family: var(--serif);
    font-size: 17px;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
    gap: 10px;
    padding: 10px 0;
    list-style: none;
  }
  button {
    display: grid;
    gap: 4px;
    width: 100%;
    height: 100%;
    padding: 8px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
    text-align: left;
    cursor: pointer;
  }
  img {
    max-width: 100%;
    max-height: 54px;
    mix-blend-mode: multiply;
  }
  .reads {
    font-family: var(--serif);
    font-size: 15px;
  }
  .out {
    opacity: 0.65;
  }
  .out .reads {
    text-decoration: line-through;
  }
</style>
