<script lang="ts">
  /** What does not fit, one place after the other, with what can be done about it: each is looked at before it is kept. */
  import type { Outcome, Way } from './outcome.svelte';

  let { outcome, toRow, toPage }: { outcome: Outcome; toRow: (row: string) => void; toPage: (page: number) => void } = $props();

  const misfit = $derived(outcome.inHand);
  const ofPages = $derived(misfit?.kind === 'more_pages' || misfit?.kind === 'fewer_pages');
  const more = $derived(misfit?.kind === 'more_pages');
  const ways = $derived<Way[]>([...(ofPages ? (['spacing', 'size'] as const) : []), ...((ofPages || !misfit) && outcome.canBeginAlike ? (['source'] as const) : [])]);

  function named(way: Way): string {
    if (way === 'source') return 'pages begin as in the source';
    if (way === 'size') return more ? 'smaller letters' : 'larger letters';
    return more ? 'closer lines' : 'wider lines';
  }

  function amount(way: Way): string {
    const tried = outcome.tried[way];
    if (!tried) return 'trying …';
    const fit = tried.outcome?.fit;
    if (!tried.outcome || !fit) return tried.sentence;
    const pages = tried.outcome.pages.length === 1 ? '1 page' : `${tried.outcome.pages.length} pages`;
    const spaced = fit.spacing && fit.spacing !== 1 ? `lines ${percent(fit.spacing)}, ` : '';
    const sized = fit.size && fit.size !== 1 ? `letters ${percent(fit.size)}, ` : '';
    return `${spaced}${sized}${pages}`;
  }

  const percent = (factor: number) => `${factor < 1 ? '−' : '+'}${Math.abs((factor - 1) * 100).toFixed(1).replace(/\.0$/, '')}%`;
  const can = (way: Way) => !!outcome.tried[way]?.outcome;

  function step(by: number) {
    outcome.step(by);
    if (outcome.inHand) toPage(outcome.inHand.page);
  }

  function pressed(event: KeyboardEvent) {
    const target = event.target as HTMLElement;
    if (target.closest('input, textarea, select, [contenteditable="true"], [role="dialog"]') || event.ctrlKey || event.metaKey || event.altKey) return;
    const key = event.key.toLowerCase();
    const way = ways[Number(key) - 1];
    if (way && can(way)) outcome.look(way);
    else if (key === 'k' && outcome.way) void outcome.keep();
    else if (key === 'escape' && outcome.way) outcome.look(null);
    else if (key === '0' && misfit) outcome.leave();
    else if (key === 'n' && misfit) step(1);
    else if (key === 'b' && misfit) step(-1);
    else if (key === 'p' && misfit && !outcome.way) toPage(misfit.page);
    else if (key === 't' && misfit) toRow(misfit.row);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<svelte:window onkeydowncapture={pressed} />

<aside aria-label="What does not fit">
  {#if outcome.way}
    <p class="kind">Looked at, not kept</p>
    <h2>{named(outcome.way)}</h2>
    <p>{amount(outcome.way)}. The pages show how it would be.</p>
    <p class="answers">
      <button class="answer" disabled={outcome.proof.readOnly} onclick={() => outcome.keep()}><kbd>K</kbd> keep it</button>
      <button class="answer" onclick={() => outcome.look(null)}><kbd>Esc</kbd> as it was</button>
    </p>
  {:else if misfit}
    <p class="kind">
      {outcome.misfits.length === 1 ? 'One place does not fit' : `Place ${Math.min(outcome.at, outcome.misfits.length - 1) + 1} of ${outcome.misfits.length} that do not fit`} · page {misfit.page}
    </p>
    <h2>{misfit.sentence}</h2>
  {:else}
    <p class="kind">All places fit</p>
    <h2>{outcome.now?.pages.length === outcome.now?.source_pages.length ? 'As many pages as the source' : 'Left as it is'}</h2>
    {#if !outcome.alike}<p>Some pages end elsewhere than in the source: their threads slant.</p>{/if}
  {/if}
  <ol>
    {#each ways as way, n (way)}
      {@const shown = outcome.way === way}
      {#if !outcome.way || shown || can(way)}
        <li>
          <button class="answer" aria-pressed={shown} disabled={!can(way)} onclick={() => outcome.look(way)}><kbd>{n + 1}</kbd> {named(way)}</button>
          <span>{amount(way)}</span>
        </li>
      {/if}
    {/each}
  </ol>
  {#if misfit && !outcome.way}
    <p class="answers">
      <button class="answer" onclick={() => toPage(misfit.page)}><kbd>P</kbd> show page {misfit.page}</button>
      <button class="answer" onclick={() => toRow(misfit.row)}><kbd>T</kbd> to the row</button>
      <button class="answer" onclick={() => outcome.leave()}><kbd>0</kbd> leave it so</button>
    </p>
    {#if outcome.misfits.length > 1}
      <p>
        <button class="plain" onclick={() => step(1)}>next <kbd>N</kbd></button>
        <button class="plain" onclick={() => step(-1)}>back <kbd>B</kbd></button>
      </p>
    {/if}
  {/if}
  {#if outcome.shown?.stand_ins.length}
    <div class="faces">
      <h3>Typefaces</h3>
      {#each outcome.shown.stand_ins.slice(0, 4) as face (face.name)}<p>{face.stands} stands for {face.name}, which is not at hand.</p>{/each}
    </div>
  {/if}
  <p class="set" role="status">{outcome.loading ? 'Setting the pages …' : outcome.shown ? `Set in ${Math.max(outcome.shown.seconds, 0.1).toFixed(1)} s` : ''}</p>
</aside>

<style>
  aside {
    display: flex;
    flex-direction: column;
    gap: 10px;
    overflow-y: auto;
    padding: 18px 18px 12px;
    border-left: 3px solid var(--verdigris);
    background: var(--verdigris-wash);
  }
  p,
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  .kind {
    color: var(--saffron);
    font-weight: 650;
  }
  h2 {
    margin: 0;
    font-family: var(--serif);
    font-size: 19px;
    font-weight: 650;
    line-height: 1.3;
  }
  h2::first-letter {
    text-transform: uppercase;
  }
  ol {
    display: grid;
    gap: 8px;
  }
  li span {
    display: block;
    padding: 2px 0 0 2px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .answers {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .answer {
    display: inline-flex;
    gap: 8px;
    align-items: center;
    min-height: 38px;
    padding: 4px 12px 4px 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font-family: var(--serif);
    font-size: 16px;
    text-align: left;
    cursor: pointer;
  }
  .answer:disabled {
    color: #6f6a5e;
    cursor: default;
  }
  .answer[aria-pressed='true'] {
    border-color: var(--verdigris);
    box-shadow: inset 0 0 0 1px var(--verdigris);
  }
  .plain {
    padding: 0 8px 0 0;
    border: 0;
    background: none;
    color: var(--ink);
    font: inherit;
    cursor: pointer;
  }
  .faces {
    margin-top: 12px;
    font-size: 13px;
  }
  h3 {
    margin: 0 0 4px;
    color: var(--ink-soft);
    font-size: 13px;
    font-weight: 500;
  }
  .set {
    margin-top: auto;
    color: var(--ink-soft);
    font-size: 13px;
  }
</style>
