<script lang="ts">
  /** All queries of one kind above a likelihood, with what they would be settled as: a list first, then one step. */
  import { Modal } from 'carbon-components-svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import type { PlacedQuery } from '../api/client';
  import type { Proof } from '../state/proof.svelte';

  let { proof, kind, close }: { proof: Proof; kind: string; close: () => void } = $props();

  const MOST = 300;
  const wording = $derived(proof.queries.kind(kind));
  const ofKind = $derived(proof.queries.list.filter((one) => one.query.kind === kind && one.query.typing === 'word'));
  let least = $state(50);
  let how = $state<'answer' | 'keep'>('answer');
  const struck = new SvelteSet<string>();

  const listed = $derived(
    ofKind.filter((one) =>
      how === 'answer' ? one.query.likelihood * 100 >= least && (one.query.answers?.length ?? 0) > 0 : one.query.likelihood * 100 <= least,
    ),
  );
  const shown = $derived(listed.slice(0, MOST));
  // What is not shown is not settled.
  const chosen = $derived(shown.filter((one) => !struck.has(one.id)));
  const answer = (one: PlacedQuery) => (how === 'answer' ? one.query.answers![0]! : one.query.text);

  function settle() {
    proof.queries.settleAll(chosen.map((one) => [one, answer(one)]));
    close();
  }

  function strike(one: PlacedQuery) {
    if (struck.has(one.id)) struck.delete(one.id);
    else struck.add(one.id);
  }
</script>

<Modal
  open
  size="lg"
  hasScrollingContent
  modalHeading="All {wording?.several ?? kind}"
  primaryButtonText={how === 'answer' ? `Settle ${chosen.length}` : `Keep ${chosen.length}`}
  secondaryButtonText="Leave them"
  primaryButtonDisabled={!chosen.length}
  selectorPrimaryFocus="#kind-least"
  on:click:button--primary={settle}
  on:click:button--secondary={close}
  on:close={close}
>
  <fieldset>
    <label><input type="radio" bind:group={how} value="answer" /> with their first answer, where likely wrong from</label>
    <label><input type="radio" bind:group={how} value="keep" /> as they stand, where likely wrong up to</label>
    <label><input id="kind-least" type="number" min="0" max="100" step="5" bind:value={least} /> %</label>
  </fieldset>
  {#if !listed.length}<p class="quiet">None of them.</p>{/if}
  <table>
    <tbody>
      {#each shown as one (one.id)}
        <tr class:out={struck.has(one.id)}>
          <td><input type="checkbox" checked={!struck.has(one.id)} onchange={() => strike(one)} aria-label="Settle “{one.query.text}”" /></td>
          <td class="serif">{one.query.text}</td>
          <td class="serif">{how === 'answer' ? '→ ' + answer(one) : 'kept'}</td>
          <td class="quiet context">{one.query.context}</td>
          <td class="quiet">page {one.query.page}</td>
          <td class="quiet">{Math.round(one.query.likelihood * 100)} %</td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if listed.length > MOST}<p class="quiet">And {listed.length - MOST} more, which come when these are settled.</p>{/if}
</Modal>

<style>
  fieldset {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 20px;
    align-items: center;
    margin-bottom: 10px;
    border: 0;
  }
  #kind-least {
    width: 70px;
    padding: 3px 6px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    font: inherit;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  td {
    padding: 4px 8px;
    border-bottom: 1px solid var(--paper-edge);
    vertical-align: baseline;
  }
  .serif {
    font-family: var(--serif);
    font-size: 16px;
  }
  .context {
    max-width: 380px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .out {
    opacity: 0.6;
    text-decoration: line-through;
  }
</style>
