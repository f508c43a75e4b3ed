<script lang="ts">
  /** Looks of documents that the office keeps: taken over here, those of this document kept, old ones dropped. */
  import { onMount } from 'svelte';
  import { api, type ResolvedStyle } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';

  interface Props {
    proof: Proof;
    /** Takes the looks of styles over into the document. */
    take: (ask: () => Promise<readonly ResolvedStyle[]>) => Promise<void>;
  }
  let { proof, take }: Props = $props();

  let names = $state.raw<string[]>([]);
  let chosen = $state('');
  let name = $state('');

  onMount(() => refresh(api.looks()));

  async function refresh(asked: Promise<string[]>) {
    try {
      names = await asked;
      if (!names.includes(chosen)) chosen = '';
      return true;
    } catch (error) {
      notices.wrong(error);
      return false;
    }
  }

  async function keep() {
    const kept = name.trim();
    if (await refresh(api.styles(proof.id).then((uses) => api.keepLook(kept, uses.map((use) => use.style))))) {
      notices.say(`The looks of this document are kept as “${kept}”.`);
      name = '';
    }
  }
</script>

<section aria-labelledby="looks-head">
  <h3 id="looks-head">Looks of the office</h3>
  {#if names.length}
    <p>
      <select aria-label="Look of the office" bind:value={chosen}>
        <option value="">Choose one…</option>
        {#each names as one (one)}<option>{one}</option>{/each}
      </select>
      <button disabled={proof.readOnly || !chosen} onclick={() => take(async () => (await api.look(chosen)).styles)}>Take it over</button>
      <button disabled={!chosen} onclick={() => refresh(api.dropLook(chosen))}>Drop it</button>
    </p>
  {/if}
  <p>
    <input aria-label="Name for the looks of this document" placeholder="A name for those of this document" bind:value={name} onkeydown={(event) => event.key === 'Enter' && name.trim() && keep()} />
    <button disabled={!name.trim()} onclick={keep}>Keep</button>
  </p>
</section>

<style>
  section {
    padding: 10px;
  }
  h3 {
    font-size: 13px;
    font-weight: 650;
  }
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    padding-top: 6px;
  }
  :is(select, button, input) {
    min-width: 0;
    height: 28px;
    padding: 0 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--paper);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
  }
  :is(select, input) {
    flex: 1;
  }
  button {
    cursor: pointer;
  }
  button:disabled {
    color: #857f72;
    cursor: default;
  }
</style>
