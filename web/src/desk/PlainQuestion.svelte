<script lang="ts">
  /** Says what making the document plain will do, and does it. */
  import { Modal } from 'carbon-components-svelte';
  import { onMount } from 'svelte';
  import { api, type Plainness } from '../api/client';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';

  let { proof, fonts, close }: { proof: Proof; fonts: readonly string[]; close: () => void } = $props();

  let would = $state.raw<Plainness | null>(null);
  let font = $state('');

  const counted = (count: number, one: string, several: string) => `${count} ${count === 1 ? one : several}`;

  const said = $derived(
    would
      ? [
          would.rows && `${counted(would.rows, 'row becomes a paragraph', 'rows become paragraphs')} (captions, quotations, verse, code and the like)`,
          would.looks && `${counted(would.looks, 'stretch of text loses its look', 'stretches of text lose their looks')} (bold, italic, colour); raised and lowered signs stay`,
          would.breaks && counted(would.breaks, 'line break becomes a space', 'line breaks become spaces'),
          would.styles_before !== would.styles_after && `${would.styles_after} styles are left of ${would.styles_before}`,
          would.columns && 'all is set in one column',
        ].filter((one): one is string => !!one)
      : [],
  );

  onMount(async () => {
    try {
      would = await api.plainness(proof.id);
    } catch (error) {
      notices.wrong(error);
      close();
    }
  });

  function make() {
    proof.editing = null;
    void proof.send({ op: 'make_plain', font });
    close();
  }
</script>

<Modal
  open
  size="sm"
  modalHeading="Everything plain"
  primaryButtonText="Make it plain"
  secondaryButtonText="Leave it"
  primaryButtonDisabled={!would}
  selectorPrimaryFocus="#plain-font"
  on:click:button--primary={make}
  on:click:button--secondary={close}
  on:close={close}
  on:submit={make}
>
  <p>Headings, lists, notes, tables and paragraphs are left, in one typeface. One Undo takes it back.</p>
  <ul>
    {#each said as one (one)}<li>{one}</li>{/each}
  </ul>
  <label
    >Typeface <select id="plain-font" bind:value={font}>
      <option value="">that of the text</option>
      {#each fonts as one (one)}<option>{one}</option>{/each}
    </select></label
  >
</Modal>

<style>
  ul {
    margin: 10px 0 14px;
    padding-left: 1.2em;
    list-style: disc;
  }
  li {
    padding: 2px 0;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  select {
    height: 32px;
    padding: 0 8px;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    font: inherit;
  }
</style>
