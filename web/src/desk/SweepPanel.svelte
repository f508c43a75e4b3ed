<script lang="ts">
  /** Small faults of the document by kind, with samples; those of the kinds that are ticked are put right as one step. */
  import { SvelteMap } from 'svelte/reactivity';
  import { api, type FaultsOfKind, type Hit } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { entriesOf } from './entries.svelte';

  let { proof, go, close }: { proof: Proof; go: (place: number, block: string) => void; close: () => void } = $props();

  // svelte-ignore state_referenced_locally: the desk is made anew for another document
  const faults = entriesOf(proof, api.faults);
  const kinds = $derived(faults.list ?? []);
  /** What the clerk has ticked or unticked; kinds that may be meant are not ticked before. */
  const chosen = new SvelteMap<string, boolean>();
  const isChosen = (one: FaultsOfKind) => chosen.get(one.kind) ?? !one.ask;
  const taken = $derived(kinds.filter(isChosen));
  const count = $derived(taken.reduce((sum, one) => sum + one.total, 0));

  /** Spaces and breaks as signs that can be seen. */
  const seen = (text: string) => text.replaceAll('\n', '⏎').replaceAll('\t', '⇥').replace(/ /g, '\u00b7');

  function sweep() {
    proof.editing = null;
    void proof.send({ op: 'sweep', kinds: taken.map((one) => one.kind) });
  }

  const goTo = (hit: Hit) => hit.row >= 0 && go(hit.row, proof.blocks[hit.row]?.id ?? hit.place);
</script>

<!-- svelte-ignore a11y_no_static_element_interactions: Escape closes it from anywhere within -->
<div class="all" onkeydown={(event) => event.key === 'Escape' && (event.stopPropagation(), close())}>
  {#if faults.list && !kinds.length}
    <p>There is nothing to sweep.</p>
  {:else if faults.list}
    <button class="sweep" disabled={!count || proof.readOnly} onclick={sweep}>Sweep {count || ''}</button>
    <ul>
      {#each kinds as one (one.kind)}
        <li>
          <label
            ><input type="checkbox" checked={isChosen(one)} onchange={(event) => chosen.set(one.kind, event.currentTarget.checked)} />
            <b>{one.total}</b>
            {one.title}</label
          >
          {#if one.ask}<p class="ask">Some of them may be meant: look at them first.</p>{/if}
          {#each one.samples as hit (hit.place + ' ' + hit.start)}
            <button class="sample" onclick={() => goTo(hit)} title="Go to it">
              {#if one.kind === 'empty rows'}row {hit.row + 1}{:else}{hit.before.slice(-12)}<del>{seen(hit.text)}</del>{#if hit.becomes}<ins>{seen(hit.becomes)}</ins>{/if}{hit.behind}{/if}
            </button>
          {/each}
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  .all {
    display: flex;
    flex: 1;
    flex-direction: column;
    min-height: 0;
    font-size: 13px;
  }
  p {
    margin: 0;
    padding: 8px 12px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .ask {
    padding: 0 0 2px 22px;
  }
  .sweep {
    height: 32px;
    margin: 10px;
    border: 1px solid var(--verdigris);
    border-radius: 3px;
    background: var(--verdigris);
    color: var(--sheet);
    font: inherit;
    font-size: 14px;
    cursor: pointer;
  }
  .sweep:disabled {
    border-color: var(--paper-edge);
    background: var(--paper);
    color: #857f72;
    cursor: default;
  }
  ul {
    flex: 1;
    margin: 0;
    padding: 0;
    overflow-y: auto;
    border-top: 1px solid var(--paper-edge);
    list-style: none;
  }
  li {
    padding: 7px 10px;
    border-bottom: 1px solid var(--paper-edge);
  }
  label {
    display: flex;
    gap: 6px;
    align-items: baseline;
    min-height: 24px;
  }
  b {
    font-variant-numeric: tabular-nums;
  }
  .sample {
    display: block;
    width: 100%;
    min-height: 26px;
    padding: 2px 0 2px 22px;
    overflow: hidden;
    border: 0;
    background: none;
    color: var(--ink);
    font-family: var(--serif);
    font-size: 13px;
    text-align: left;
    text-overflow: ellipsis;
    white-space: pre;
    cursor: pointer;
  }
  .sample:hover {
    background: var(--paper);
  }
  del {
    background: var(--saffron-wash);
    text-decoration: none;
  }
  ins {
    margin-left: 3px;
    color: var(--verdigris);
    font-weight: 650;
    text-decoration: none;
  }
</style>
