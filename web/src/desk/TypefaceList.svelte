<script lang="ts">
  /** The typefaces of the document, and which stands for each where it is not at hand: here, or in every document of the office. */
  import { api, type TypefacesView } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import { typefaces } from '../state/typefaces.svelte';
  import { faceOf } from './looks';

  let { proof }: { proof: Proof } = $props();

  const view = $derived(typefaces.view);

  $effect(() => {
    void proof.revision;
    void typefaces.load(proof.id);
  });

  type Use = TypefacesView['uses'][number];

  const inOffice = (use: Use) => view?.office.find((one) => one.name.toLowerCase() === use.name.toLowerCase())?.stands ?? '';
  const byItself = (use: Use) => use.faces.find((face) => face !== use.name && face !== use.chosen) ?? use.name;

  function choose(use: Use, stands: string) {
    void proof.send({ op: 'stand_in', name: use.name, stands });
  }

  /** Holds the choice for all documents that are read from now on, or no longer. */
  async function keep(use: Use) {
    const stands = inOffice(use) === use.chosen ? '' : use.chosen;
    try {
      const office = await api.setOfficeStandIn(use.name, stands);
      if (view) typefaces.view = { ...view, office };
      notices.say(stands ? `${stands} stands for ${use.name} in documents that are read from now on.` : `New documents choose for ${use.name} by themselves again.`);
    } catch (error) {
      notices.wrong(error);
    }
  }
</script>

{#if view?.uses.length}
  <section aria-labelledby="typefaces-head">
    <h3 id="typefaces-head">Typefaces</h3>
    <p>What stands for each where it is not at hand.</p>
    <ul>
      {#each view.uses as use (use.name)}
        <li>
          <span class="name" style:font-family={faceOf(use.name, use.family)}>{use.name}</span>
          <select aria-label="Stands for {use.name}" value={use.chosen} disabled={proof.readOnly} onchange={(event) => choose(use, event.currentTarget.value)}>
            <option value="">{byItself(use)}, by itself</option>
            {#if use.chosen && !view.shipped.includes(use.chosen)}<option value={use.chosen}>{use.chosen}</option>{/if}
            {#each view.shipped.filter((face) => face !== use.name) as face (face)}<option value={face}>{face}</option>{/each}
          </select>
          <button aria-pressed={!!use.chosen && inOffice(use) === use.chosen} disabled={!use.chosen} title="Also in documents that are read from now on" onclick={() => keep(use)}>every document</button>
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  section {
    padding: 10px;
    border-bottom: 1px solid var(--paper-edge);
  }
  h3 {
    font-size: 13px;
    font-weight: 650;
  }
  p {
    color: var(--ink-soft);
    font-size: 12.5px;
  }
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 2px 6px;
    align-items: center;
    padding-top: 8px;
  }
  .name {
    grid-column: 1 / -1;
    font-size: 15px;
    line-height: 1.3;
  }
  :is(select, button) {
    min-width: 0;
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--paper);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--verdigris);
    background: var(--verdigris-wash);
    color: var(--verdigris-deep);
  }
  button:disabled {
    color: #857f72;
    cursor: default;
  }
</style>
