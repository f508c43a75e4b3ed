<script lang="ts">
  /** How the page in view was read, and reading it (or others) again in another way. */
  import { Button, Modal, NumberInput, Select, SelectItem } from 'carbon-components-svelte';
  import { api, type PageReading, type Preparation } from '../api/client';
  import { languageName, languages } from '../shared/languages.svelte';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';

  let { proof, page, open = $bindable() }: { proof: Proof; page: number; open: boolean } = $props();

  const TRUST = { auto: 'as found', text: 'the text that came with the file', picture: 'the picture of the page' } as const;
  const STEPS = [
    ['flatten', 'Find the sheet in a photo'],
    ['straighten', 'Straighten'],
    ['even_light', 'Even out light'],
    ['despeckle', 'Take specks off'],
  ] as const;

  let reading = $state<PageReading | null>(null);
  let chosen = $state<string[]>([]);
  let trust = $state<keyof typeof TRUST>('auto');
  let turn = $state('');
  let steps = $state({ flatten: true, straighten: true, even_light: true, despeckle: true });
  let which = $state<'one' | 'range' | 'all'>('one');
  let from = $state<number | null>(1);
  let to = $state<number | null>(1);

  const count = $derived(proof.opened?.document.page_count ?? 1);

  $effect(() => {
    if (open) void load(page);
  });

  async function load(number: number) {
    try {
      reading = await api.page(proof.id, number);
      const kept = reading.preparation;
      chosen = [...(kept.languages ?? [])];
      trust = kept.trust ?? 'auto';
      turn = kept.turn === null || kept.turn === undefined ? '' : String(kept.turn);
      for (const [name] of STEPS) steps[name] = kept[name] ?? true;
      from = number;
      to = number;
    } catch (error) {
      notices.wrong(error);
      open = false;
    }
  }

  async function again() {
    const preparation: Preparation = { languages: chosen, trust, turn: turn === '' ? null : Number(turn), ...steps };
    const low = Math.min(from ?? 1, to ?? 1);
    const pages =
      which === 'all' ? [] : which === 'one' ? [page] : Array.from({ length: Math.abs((to ?? 1) - (from ?? 1)) + 1 }, (_, n) => low + n);
    try {
      await api.readAgain(proof.id, pages, preparation);
      open = false;
    } catch (error) {
      notices.wrong(error);
    }
  }
</script>

<Modal passiveModal hasScrollingContent bind:open modalHeading="How page {page} is read" size="sm">
  {#if reading}
    <p>
      {reading.kind === 'native' ? 'Its text came with the file.' : 'It was recognised from its picture.'}
      {#if reading.languages?.length}Language: {reading.languages.map(languageName).join(', ')}.{/if}
    </p>
    {#if reading.steps?.length}<p class="quiet">Cleaned: {reading.steps.join(', ')}.</p>{/if}
    {#each reading.remarks ?? [] as remark (remark)}<p class="remark">{remark}</p>{/each}
    {#if reading.cleaned}
      <fieldset>
        <legend>Strips show the page</legend>
        <label><input type="radio" value="cleaned" bind:group={proof.view} /> as it was cleaned</label>
        <label><input type="radio" value="came" bind:group={proof.view} /> as it came</label>
      </fieldset>
    {/if}
    <h3>Read again</h3>
    <fieldset class="languages">
      <legend>Languages; found by itself if none is chosen</legend>
      {#each languages.codes as code (code)}
        <label><input type="checkbox" value={code} bind:group={chosen} /> {languageName(code)}</label>
      {/each}
    </fieldset>
    <Select size="sm" labelText="Words are taken from" bind:selected={trust}>
      {#each Object.entries(TRUST) as [value, text] (value)}<SelectItem {value} {text} />{/each}
    </Select>
    <Select size="sm" labelText="Turn" bind:selected={turn}>
      <SelectItem value="" text="as found" />
      <SelectItem value="0" text="as it came" />
      <SelectItem value="90" text="a quarter to the right" />
      <SelectItem value="180" text="upside down" />
      <SelectItem value="270" text="a quarter to the left" />
    </Select>
    <fieldset>
      <legend>Cleaning, where it helps</legend>
      {#each STEPS as [name, text] (name)}<label><input type="checkbox" bind:checked={steps[name]} /> {text}</label>{/each}
    </fieldset>
    <fieldset>
      <legend>Which pages</legend>
      <label><input type="radio" value="one" bind:group={which} /> this page</label>
      {#if count > 1}
        <label><input type="radio" value="range" bind:group={which} /> from … to …</label>
        <label><input type="radio" value="all" bind:group={which} /> all {count} pages</label>
      {/if}
    </fieldset>
    {#if which === 'range'}
      <div class="range">
        <NumberInput size="sm" labelText="From page" min={1} max={count} bind:value={from} />
        <NumberInput size="sm" labelText="To page" min={1} max={count} bind:value={to} />
      </div>
    {/if}
    <p class="quiet">Corrections are kept; what the new reading says otherwise is listed. Undo brings the earlier reading back.</p>
    <Button size="small" disabled={proof.readOnly} on:click={again}>Read again</Button>
  {/if}
</Modal>

<style>
  p {
    margin: 0 0 0.7em;
  }
  .remark {
    padding-left: 10px;
    border-left: 3px solid var(--saffron);
  }
  h3 {
    margin: 1em 0 0.4em;
    font-size: 15px;
    font-weight: 650;
  }
  fieldset {
    margin: 0 0 12px;
    padding: 0;
    border: 0;
  }
  legend {
    margin-bottom: 4px;
    color: var(--ink-soft);
    font-size: 12px;
  }
  label {
    display: inline-flex;
    gap: 6px;
    align-items: center;
    margin-right: 14px;
    min-height: 26px;
  }
  .languages {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
  }
  .languages legend {
    grid-column: 1 / -1;
  }
  .range {
    display: flex;
    gap: 12px;
    margin-bottom: 12px;
  }
</style>
