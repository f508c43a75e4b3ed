<script lang="ts">
  /** What is to be looked at before a document goes out: nothing of it keeps it here. */
  import { api, type Check, type OutcomeView } from '../api/client';
  import { deskAddress } from '../state/route.svelte';

  let { id, revision }: { id: string; revision: number } = $props();

  /** Milliseconds for which the checks wait for the pages, at most. */
  const LONGEST_WAIT = 2000;

  let checks = $state.raw<Check[] | null>(null);
  let outcome = $state.raw<OutcomeView | null>(null);
  let checking = $state(true);

  $effect(() => {
    void revision;
    // Both are mostly shown at once, so that what stands below moves no more than once; pages that take longer to set keep nothing back.
    // What cannot be found out is not said; the document goes out all the same.
    const set = api.outcome(id).then((found) => (outcome = found), () => (outcome = null));
    const found = api.checks(id).then((found) => (checks = found), () => (checks = null));
    void Promise.all([found, Promise.race([set, new Promise((resolve) => setTimeout(resolve, LONGEST_WAIT))])]).then(() => (checking = false));
  });

  const rows = (check: Check) => {
    const every = check.places ?? [];
    const shown = every.slice(0, 8).map((place) => place + 1);
    return every.length ? ` (${every.length === 1 ? 'row' : 'rows'} ${shown.join(', ')}${every.length > 8 ? ' …' : ''})` : '';
  };
  const count = $derived((checks?.length ?? 0) + (outcome ? outcome.misfits.length + outcome.stand_ins.length : 0));
</script>

{#if checking}
  <div class="checks being-checked"><p class="quiet">Being checked …</p></div>
{:else if checks}
  <div class="checks">
    <h3>{count ? 'To be looked at' : 'Checked'}</h3>
    {#if count}
      <ul>
        {#each checks as check, n (n)}<li><strong>{check.kind}</strong> {check.sentence}{rows(check)}</li>{/each}
        {#each outcome?.misfits ?? [] as misfit, n (n)}<li><strong>fit</strong> {misfit.sentence}</li>{/each}
        {#each outcome?.stand_ins ?? [] as face (face.name)}<li><strong>typefaces</strong> {face.name} is not at hand here; {face.stands} stands for it in PDF.</li>{/each}
      </ul>
      <p class="quiet">None of it keeps the document here. <a href={deskAddress(id)}>To the desk</a></p>
    {:else}
      <p>Headings, descriptions of pictures, headers of tables, language, contrast, fit and typefaces: nothing is to be looked at.</p>
    {/if}
  </div>
{/if}

<style>
  .checks {
    margin: 0 0 18px;
  }
  /* About as high as what mostly comes: what stands below hardly moves then. */
  .being-checked {
    min-height: 84px;
  }
  h3 {
    margin: 0 0 4px;
    color: var(--ink-soft);
    font-size: 13px;
    font-weight: 400;
  }
  ul {
    margin: 0 0 8px;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 120px minmax(0, 1fr);
    gap: 16px;
    padding: 4px 0;
    border-bottom: 1px solid var(--paper-edge);
    line-height: 1.35;
  }
  strong {
    color: var(--saffron);
    font-weight: 500;
  }
  strong::first-letter {
    text-transform: uppercase;
  }
  p {
    max-width: 65ch;
    margin: 0;
  }
  a {
    color: var(--verdigris);
  }
  @media (max-width: 640px) {
    li {
      grid-template-columns: minmax(0, 1fr);
      gap: 0;
    }
  }
</style>
