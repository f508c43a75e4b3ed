<script lang="ts">
  /** What was read at a place, old and new together, before the new takes the place of the old. */
  import { Button, Modal } from 'carbon-components-svelte';
  import { isTable, isText, readable, tableText } from '../shared/blocks';
  import { languageName, languages } from '../shared/languages.svelte';
  import type { SheetPage } from '../state/sheet.svelte';

  let { sheet }: { sheet: SheetPage } = $props();

  let chosen = $state<string[]>([]);
  let despeckle = $state(true);
  let even_light = $state(true);

  const pending = $derived(sheet.pending!);
  const block = $derived(pending.region?.block);
  const old = $derived(!block ? '' : isText(block) ? readable(block.content) : isTable(block) ? tableText(block) : '');
  const kept = $derived(block && isText(block) ? { text: old, words: block.words ?? [] } : null);

  // svelte-ignore state_referenced_locally: the dialog is made anew for another place
  let rows = $state(sheet.pending?.rows ?? false);

  function again() {
    void sheet.readPlace(pending.region, pending.area, { languages: chosen, despeckle, even_light }, rows);
  }
</script>

<Modal
  open
  passiveModal
  hasScrollingContent
  modalHeading={pending.region ? 'This region, read again' : 'A new region'}
  on:close={() => (sheet.pending = null)}
>
  {#if pending.region}
    <h3>Now</h3>
    <blockquote>{old || 'nothing'}</blockquote>
  {/if}
  <h3>{pending.region ? 'Read again' : 'Read there'}</h3>
  <blockquote aria-live="polite" class:same={pending.read?.text === old && !!old}>
    {pending.reading ? 'Reading …' : pending.read?.text || 'Nothing can be read there.'}
  </blockquote>
  {#if pending.read?.text === old && old}<p class="quiet">It reads the same.</p>{/if}
  <div class="buttons">
    <Button size="small" disabled={!pending.read?.text} on:click={() => pending.read && sheet.take(pending.read)}
      >{pending.region ? 'Take the new reading' : 'Take it as text'}</Button
    >
    {#if kept}<Button size="small" kind="tertiary" on:click={() => sheet.take(kept)}>Keep the text, take the outline</Button>{/if}
    <Button size="small" kind="tertiary" on:click={() => sheet.equation(pending.region, pending.area)}>Take it as an equation</Button>
    {#if !pending.region}
      <Button size="small" kind="tertiary" on:click={() => sheet.cut(null, pending.area)}>Cut it out as a picture</Button>
    {/if}
    <Button size="small" kind="ghost" on:click={() => (sheet.pending = null)}>Leave it</Button>
  </div>
  <h3>In another way</h3>
  <fieldset>
    <legend>Languages; those of the page if none is chosen</legend>
    {#each languages.codes as code (code)}
      <label><input type="checkbox" value={code} bind:group={chosen} /> {languageName(code)}</label>
    {/each}
  </fieldset>
  <label><input type="checkbox" bind:checked={despeckle} /> take specks off</label>
  <label><input type="checkbox" bind:checked={even_light} /> even out light</label>
  <label><input type="checkbox" bind:checked={rows} /> read it as a table</label>
  <div class="buttons"><Button size="small" kind="tertiary" disabled={pending.reading} on:click={again}>Read again so</Button></div>
</Modal>

<style>
  h3 {
    margin: 10px 0 4px;
    font-size: 14px;
    font-weight: 650;
  }
  blockquote {
    margin: 0;
    padding: 8px 12px;
    border-left: 3px solid var(--verdigris);
    background: var(--paper);
    font-family: var(--serif);
    font-size: 16px;
    white-space: pre-wrap;
  }
  .same {
    border-left-color: var(--paper-edge);
  }
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin: 10px 0;
  }
  fieldset {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    border: 0;
  }
  label {
    margin-right: 14px;
  }
</style>
