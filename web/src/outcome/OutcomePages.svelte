<script lang="ts">
  /** The pages as they will come out, beside those of the source, in step. */
  import { tick, untrack } from 'svelte';
  import { outcomePageAddress, stripAddress } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import FitPanel from './FitPanel.svelte';
  import { Outcome } from './outcome.svelte';
  import { outcomePageOf, rowAt, sourcePageOf } from './places';
  import Threads from './Threads.svelte';

  let { proof, page = $bindable(), go }: { proof: Proof; page: number; go: (place: number, block: string) => void } = $props();

  // svelte-ignore state_referenced_locally: the outcome is made anew for another proof
  const outcome = new Outcome(proof);
  const TOP = 6; // points below the upper edge of the text in which a page of the source begins the page

  /** The page of the outcome; ``page`` is that of the source, which the other views know. */
  let at = $state(1);
  let sourcePane = $state<HTMLElement>();
  let outcomePane = $state<HTMLElement>();
  let paneWidth = $state(460);

  $effect(() => {
    void proof.revision;
    untrack(() => void outcome.load());
  });

  const shown = $derived(outcome.shown);
  $effect(() => {
    if (!shown) return;
    // Another setting of the same pages is looked at from where the clerk was in the source.
    untrack(() => (at = outcomePageOf(shown, page)));
  });
  function show(wanted: number, from: 'source' | 'outcome') {
    if (!shown) return;
    if (from === 'source') {
      page = wanted;
      at = outcomePageOf(shown, wanted);
    } else {
      at = wanted;
      page = sourcePageOf(shown, wanted);
    }
    void tick().then(() => [sourcePane, outcomePane].forEach((pane) => pane?.scrollTo({ top: 0 })));
  }

  const size = $derived(shown?.pages[at - 1]);
  const scale = $derived(size ? Math.max((paneWidth - 44) / size.width, 0.2) : 1);
  const drawn = $derived(Math.min(scale * devicePixelRatio, 3));
  const starts = $derived.by(() => {
    if (!shown) return [];
    const top = Math.min(...shown.rows.filter((row) => row.start.page === at).map((row) => row.start.y));
    return shown.source_starts.filter((start) => start.at.page === at && start.at.y > top + TOP);
  });

  function toRow(row: string) {
    const place = shown?.rows.find((one) => one.row === row)?.place;
    if (place !== undefined) go(place, row);
  }

  function clicked(event: MouseEvent) {
    if (!shown || outcome.way) return;
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const row = rowAt(shown.rows, at, (event.clientX - box.left) / scale, (event.clientY - box.top) / scale);
    if (row) toRow(row);
  }

  let leading: HTMLElement | undefined;
  function follow(from: HTMLElement | undefined, to: HTMLElement | undefined) {
    if (!from || !to || (leading && leading !== from)) return;
    leading = from;
    to.scrollTop = (from.scrollTop / Math.max(from.scrollHeight - from.clientHeight, 1)) * (to.scrollHeight - to.clientHeight);
    requestAnimationFrame(() => requestAnimationFrame(() => (leading = undefined)));
  }

  function pressed(event: KeyboardEvent) {
    if ((event.target as HTMLElement).closest('input, textarea, select, [role="dialog"]') || !shown) return;
    if (event.key === 'PageDown' && at < shown.pages.length) show(at + 1, 'outcome');
    else if (event.key === 'PageUp' && at > 1) show(at - 1, 'outcome');
    else return;
    event.preventDefault();
  }
</script>

<svelte:window onkeydown={pressed} />

{#if shown && size}
  <div class="whole">
    <div class="threads"><Threads {proof} outcome={shown} source={page} page={at} go={show} /></div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex: it scrolls -->
    <section tabindex="0" bind:this={sourcePane} onscroll={() => follow(sourcePane, outcomePane)} aria-label="Source, page {page}">
      <img class="page" style:width="{paneWidth - 44}px" src={stripAddress(proof.id, page, null, Math.min(drawn, 3), 'cleaned', proof.pages.get(page)?.reading ?? 0)} alt="Page {page} of the source" />
      <p class="which">source, page {page}</p>
    </section>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex: it scrolls -->
    <section tabindex="0" class="comes" bind:this={outcomePane} bind:clientWidth={paneWidth} onscroll={() => follow(outcomePane, sourcePane)} aria-label="Outcome, page {at}">
      <div class="page" style:width="{size.width * scale}px" style:height="{size.height * scale}px">
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions: rows are reached by keys through the panel and the page ends -->
        <img src={outcomePageAddress(proof.id, shown, at, drawn)} alt="Page {at} of the outcome" onclick={clicked} />
        {#each starts as start (start.page)}
          <div class="ends" style:top="{start.at.y * scale}px">
            <button onclick={() => toRow(start.row)} disabled={!!outcome.way}>page {start.page} of the source begins here</button>
          </div>
        {/each}
      </div>
      <p class="which">outcome, page {at}{outcome.way ? ', as it would be' : ''}</p>
    </section>
    <FitPanel {outcome} {toRow} toPage={(wanted) => show(wanted, 'outcome')} />
  </div>
{:else if outcome.problem}
  <p class="problem" role="alert">{outcome.problem}</p>
{:else}
  <p class="problem" role="status">Setting the pages …</p>
{/if}

<style>
  .whole {
    display: grid;
    flex: 1;
    grid-template: auto minmax(0, 1fr) / minmax(0, 1fr) minmax(0, 1fr) 300px;
    min-height: 0;
  }
  .threads {
    grid-column: 1 / -1;
    min-width: 0;
  }
  section {
    position: relative;
    overflow-y: auto;
    padding: 18px 22px 0;
    background: var(--paper-deep);
  }
  .comes {
    border-left: 1px solid var(--paper-edge);
    background: var(--paper);
  }
  .page {
    position: relative;
    display: block;
    background: var(--sheet);
    box-shadow: 0 1px 4px rgb(29 37 48 / 25%);
  }
  .page img {
    display: block;
    width: 100%;
    height: 100%;
    cursor: pointer;
  }
  .which {
    position: sticky;
    bottom: 0;
    width: max-content;
    margin: 8px 0 0 -10px;
    padding: 3px 10px;
    background: var(--paper-deep);
    color: var(--ink);
    font-size: 14px;
  }
  .ends {
    position: absolute;
    inset-inline: 0;
    border-top: 2px dashed var(--saffron);
  }
  .ends button {
    position: absolute;
    top: 0;
    right: 8px;
    padding: 2px 8px;
    border: 0;
    background: var(--saffron-wash);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    cursor: pointer;
  }
  .problem {
    margin: 0;
    padding: 40px 24px;
    font-family: var(--serif);
    font-size: 18px;
  }
  @media (max-width: 900px) {
    .whole {
      grid-template: auto minmax(0, 1fr) minmax(0, auto) / minmax(0, 1fr) minmax(0, 1fr);
    }
    .whole > :global(aside) {
      grid-column: 1 / -1;
      max-height: 40vh;
    }
  }
  @media (max-width: 600px) {
    .whole {
      grid-template: auto minmax(0, 1fr) minmax(0, auto) / minmax(0, 1fr);
    }
    section:not(.comes) {
      display: none;
    }
  }
</style>
