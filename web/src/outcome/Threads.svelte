<script lang="ts">
  /** The pages of the source above those of the outcome; a thread leads from the end of each page to where that has come to stand. */
  import { outcomePageAddress, stripAddress, type OutcomeView } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { drift } from './places';

  let {
    proof,
    outcome,
    source,
    page,
    go,
  }: { proof: Proof; outcome: OutcomeView; source: number; page: number; go: (page: number, from: 'source' | 'outcome') => void } = $props();

  const WIDE = 58;
  const PITCH = 104;
  const LEFT = 100;
  const TALL = 82;
  const ALIKE = 0.02; // pages of drift that are none
  const AROUND = 4; // pages beside those that are seen

  let band = $state<HTMLElement>();
  let width = $state(1000);
  let scrolled = $state(0);

  const count = $derived(Math.max(outcome.pages.length, outcome.source_pages.length));
  const from = $derived(Math.max(Math.floor((scrolled - LEFT) / PITCH) - AROUND, 0));
  const until = $derived(Math.ceil((scrolled + width - LEFT) / PITCH) + AROUND);
  const seen = (pages: readonly unknown[]) => pages.map((_, n) => n).slice(from, until);
  const left = (n: number) => LEFT + n * PITCH;
  const middle = (n: number) => left(n) + WIDE / 2;
  const threads = $derived(
    seen(outcome.source_pages).map((n) => {
      const moved = drift(outcome, n + 1);
      const end = Math.min(Math.max(middle(n) + moved * PITCH, LEFT), middle(count - 1) + WIDE / 2);
      return { n, end, slants: Math.abs(moved) > ALIKE };
    }),
  );
  const pages = (n: number) => (n === 1 ? '1 page' : `${n} pages`);

  $effect(() => {
    if (band && (middle(page - 1) < scrolled + LEFT || middle(page - 1) > scrolled + width - PITCH)) band.scrollTo({ left: middle(page - 1) - width / 2 });
  });
</script>

<div class="band" bind:this={band} bind:clientWidth={width} onscroll={() => (scrolled = band?.scrollLeft ?? 0)} role="group" aria-label="Pages of the source and of the outcome">
  <div class="ground" style:width="{left(count) + 20}px">
    <p class="label" style:top="14px" style:left="{scrolled + 14}px">source<br />{pages(outcome.source_pages.length)}</p>
    <p class="label" style:top="134px" style:left="{scrolled + 14}px">outcome<br />{pages(outcome.pages.length)}</p>
    <svg width={left(count)} height="220" aria-hidden="true">
      {#each threads as thread (thread.n)}
        <path
          class:slants={thread.slants}
          d="M {middle(thread.n)} {14 + TALL} C {middle(thread.n)} {14 + TALL + 24}, {thread.end} {134 - 24}, {thread.end} 134"
        />
        <circle class:slants={thread.slants} cx={thread.end} cy="134" r="3.5" />
      {/each}
    </svg>
    {#each seen(outcome.source_pages) as n (n)}
      <button class="source" class:here={n + 1 === source} style:left="{left(n)}px" aria-current={n + 1 === source ? 'page' : undefined} aria-label="Page {n + 1} of the source" onclick={() => go(n + 1, 'source')}>
        <img src={stripAddress(proof.id, n + 1, null, 0.2, 'cleaned', proof.pages.get(n + 1)?.reading ?? 0)} alt="" loading="lazy" />
      </button>
      <span style:left="{left(n) + WIDE + 5}px" style:top="14px">{n + 1}</span>
    {/each}
    {#each seen(outcome.pages) as n (n)}
      <button class="outcome" class:here={n + 1 === page} style:left="{left(n)}px" aria-current={n + 1 === page ? 'page' : undefined} aria-label="Page {n + 1} of the outcome" onclick={() => go(n + 1, 'outcome')}>
        <img src={outcomePageAddress(proof.id, outcome, n + 1, 0.2)} alt="" loading="lazy" />
      </button>
      <span style:left="{left(n) + WIDE + 5}px" style:top="134px">{n + 1}</span>
    {/each}
  </div>
</div>

<style>
  .band {
    overflow: auto hidden;
    border-bottom: 1px solid var(--paper-edge);
    background: var(--paper-deep);
    scrollbar-width: thin;
  }
  .ground {
    position: relative;
    height: 230px;
    min-width: 100%;
  }
  .ground > * {
    position: absolute;
  }
  .label {
    z-index: 1;
    width: 76px;
    padding: 28px 0 20px;
    background: var(--paper-deep);
    color: var(--ink-soft);
    font-size: 13px;
    line-height: 1.35;
  }
  span {
    color: var(--ink-soft);
    font-size: 13px;
  }
  button {
    width: 58px;
    height: 82px;
    padding: 0;
    border: 1px solid #bdb198;
    background: var(--sheet);
    cursor: pointer;
  }
  .source {
    top: 14px;
  }
  .outcome {
    top: 134px;
  }
  .here {
    outline: 3px solid var(--verdigris);
  }
  img {
    width: 100%;
    height: 100%;
    object-fit: contain;
  }
  path {
    fill: none;
    stroke: var(--verdigris);
    stroke-width: 2;
  }
  circle {
    fill: var(--verdigris);
  }
  path.slants {
    stroke: var(--saffron);
  }
  circle.slants {
    fill: var(--saffron);
  }
</style>
