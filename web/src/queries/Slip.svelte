<script lang="ts">
  /** The slip of the query in hand: the word enlarged in its line, the readings, one key each. */
  import { api, stripAddress, type Inline, type LookAlike, type Operation, type PlacedQuery } from '../api/client';
  import { equationAt } from '../shared/blocks';
  import { drawInto } from '../shared/equations';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import AlikeSheet from './AlikeSheet.svelte';
  import KindSheet from './KindSheet.svelte';

  let { proof, standing, width }: { proof: Proof; standing: PlacedQuery; width: number } = $props();

  const ENLARGED = 3; // pixels a point
  const AROUND = 16; // points above and below the word
  const WIDER = 44;

  const queries = $derived(proof.queries);
  const query = $derived(standing.query);
  const kind = $derived(queries.kind(query.kind));
  const counted = $derived(queries.shown);
  const number = $derived(counted.findIndex((one) => one.id === standing.id) + 1);
  const answers = $derived(query.answers ?? []);
  const fixes = $derived(query.fixes ?? []);
  const typing = $derived(query.typing ?? 'nothing');

  let typed = $state('');
  let wide = $state(false);
  let alike = $state.raw<LookAlike[]>([]);
  let showAlike = $state(false);
  let showKind = $state(false);
  /** Whether an answer goes for equal equations, too. */
  let everywhere = $state(false);
  let input = $state<HTMLInputElement>();
  let slip: HTMLElement;

  /** The equation in the place of the query's in some content, for an answer that is another equation. */
  const equationOf = (content: readonly Inline[] | null | undefined) => (query.end ? equationAt(content ?? [], query.start ?? 0) : null);
  const asRead = $derived(query.kind === 'equation' ? equationOf(proof.contentOf(query.block ?? '')) : null);

  function drawing(place: HTMLElement, equation: Parameters<typeof drawInto>[1]) {
    drawInto(place, equation, proof.opened?.language);
    return { update: (next: Parameters<typeof drawInto>[1]) => drawInto(place, next, proof.opened?.language) };
  }

  const spot = $derived.by(() => {
    const first = query.spots?.[0] as unknown as [number, [number, number, number, number]] | undefined;
    if (!first || !query.block || query.end === 0) return null;
    const [page, box] = first;
    const edges = proof.pages.get(page);
    const around = wide ? WIDER : AROUND;
    const reach = width / ENLARGED / 2;
    const middle = (box[0] + box[2]) / 2;
    const left = Math.max(middle - reach, 0);
    const area = [left, Math.max(box[1] - around, 0), Math.min(left + 2 * reach, edges?.width ?? Infinity), box[3] + around] as const;
    return {
      page,
      address: stripAddress(proof.id, page, area, ENLARGED * Math.min(devicePixelRatio, 2), proof.view, edges?.reading ?? 0),
      width: (area[2] - area[0]) * ENLARGED,
      height: (area[3] - area[1]) * ENLARGED,
      mark: {
        left: (box[0] - area[0] - 2) * ENLARGED,
        top: (box[1] - area[1] - 1) * ENLARGED,
        width: (box[2] - box[0] + 4) * ENLARGED,
        height: (box[3] - box[1] + 2) * ENLARGED,
      },
    };
  });

  $effect(() => {
    const id = standing.id;
    typed = '';
    wide = false;
    alike = [];
    everywhere = false;
    if (query.typing !== 'word' || !query.block) return;
    const waiting = setTimeout(() => {
      api.alike(proof.id, query.block!, query.start ?? 0).then(
        (found) => queries.current === id && (alike = found),
        () => undefined,
      );
    }, 120);
    return () => clearTimeout(waiting);
  });

  const others = $derived(alike.filter((one) => one.text !== (answers[0] ?? '')));
  const pagesOfOthers = $derived([...new Set(others.map((one) => one.page))]);

  function choose(place: number) {
    if (place < answers.length) queries.settle(answers[place]!);
    else if (place - answers.length < fixes.length) {
      const { operation } = fixes[place - answers.length]!;
      const other = equationIn(operation);
      if (everywhere && other) queries.fixEqual(other.tree);
      else queries.fix(operation);
    }
  }

  function keep() {
    if (everywhere) queries.keepEqual();
    else queries.keep();
  }

  /** The other equation that an answer is. */
  const equationIn = (operation: Operation) => (operation.op === 'edit_text' && asRead ? equationOf(operation.content) : null);

  function sendTyped() {
    const text = typed.trim();
    if (!text) return;
    // At once: the next key may come before anything is drawn, and it is an answer.
    slip.focus({ preventScroll: true });
    if (typing === 'description') queries.describe(text);
    else queries.settle(text, true);
  }

  function toAlike() {
    if (others.length) showAlike = true;
    else notices.say('No other word looks like this one.');
  }

  function pressed(event: KeyboardEvent) {
    if (showAlike || showKind || event.ctrlKey || event.metaKey || event.altKey) return;
    const target = event.target as HTMLElement;
    if (event.key === 'Escape') {
      if (target === input) slip.focus({ preventScroll: true });
      else queries.current = null;
      event.preventDefault();
      return;
    }
    if (target.closest('input, textarea, select, [contenteditable="true"], [role="dialog"]')) return;
    const key = event.key.toLowerCase();
    const settles = /^[0-9]$/.test(key);
    // A key that is held down settles one query, not all that come after it.
    if (settles && event.repeat) return event.preventDefault();
    if (settles) key === '0' ? keep() : choose(Number(key) - 1);
    else if (key === 'n' || key === 'arrowdown') queries.step(1);
    else if (key === 'b' || key === 'arrowup') queries.step(-1);
    else if (key === 'l') void queries.leave();
    else if (key === 't' && typing !== 'nothing') input?.focus();
    else if (key === 'a' && typing === 'word') toAlike();
    else if (key === 'a' && queries.equal.length > 1) everywhere = !everywhere;
    else if (key === 'k') showKind = true;
    else if (key === 'w') wide = !wide;
    else return;
    event.preventDefault();
  }
</script>

<svelte:window onkeydown={pressed} />

<!-- svelte-ignore a11y_no_noninteractive_tabindex: keys of the slip act while it has the focus -->
<section bind:this={slip} class="slip" data-query={standing.id} tabindex="-1" aria-label="Query {number} of {counted.length}: {kind?.one ?? query.kind}">
  <div class="word">
    {#if spot}
      <div class="enlarged" style:height="{Math.min(spot.height, 170)}px">
        {#key spot.address}<img src={spot.address} alt="“{query.text}” in its line, page {spot.page}" style:width="{spot.width}px" />{/key}
        <span
          class="mark"
          style:left="{spot.mark.left}px"
          style:top="{spot.mark.top}px"
          style:width="{spot.mark.width}px"
          style:height="{spot.mark.height}px"
        ></span>
      </div>
      <p>page {spot.page} at {ENLARGED}× <button class="plain" onclick={() => (wide = !wide)}>{wide ? 'narrow' : 'widen'} <kbd>W</kbd></button></p>
    {:else}
      <p class="whole">{query.page ? `Page ${query.page}` : 'The document'}</p>
    {/if}
  </div>
  <div class="answers">
    <p class="what">
      <strong>Query {number} of {counted.length}</strong>
      <span>{kind?.one ?? query.kind} · {query.reason} · likely wrong: {Math.round(query.likelihood * 100)} %</span>
      {#if standing.left}<em>left for later</em>{/if}
    </p>
    <div class="readings" role="group" aria-label="Answers">
      {#each answers as answer, i (answer)}
        <button class="reading" onclick={() => choose(i)}><kbd>{i + 1}</kbd><span>{answer}</span></button>
      {/each}
      {#each fixes as fix, i (fix.label)}
        {@const other = equationIn(fix.operation)}
        <button class="reading" onclick={() => choose(answers.length + i)}>
          <kbd>{answers.length + i + 1}</kbd>{#if other}<span use:drawing={other}></span>{:else}<span>{fix.label}</span>{/if}
        </button>
      {/each}
      <button class="reading" onclick={keep}>
        <kbd>0</kbd>{#if asRead}<span use:drawing={asRead}></span>{/if}<span>{query.keep ?? 'keep'}{typing === 'word' && (query.keep ?? 'keep') === 'keep' ? ` ${query.text}` : ''}</span>
      </button>
      {#if typing !== 'nothing'}
        <form
          onsubmit={(event) => {
            event.preventDefault();
            sendTyped();
          }}
        >
          <input
            bind:this={input}
            bind:value={typed}
            placeholder={typing === 'description' ? 'what it shows…' : 'type it…'}
            aria-label={typing === 'description' ? 'Alternative text' : 'Type the word'}
            autocomplete="off"
            autocapitalize="off"
            spellcheck="false"
          />
        </form>
      {/if}
    </div>
    <p class="more">
      {#if queries.equal.length > 1}
        <button class="plain" aria-pressed={everywhere} onclick={() => (everywhere = !everywhere)}
          ><strong>{everywhere ? '☑' : '☐'} the same for {queries.equal.length - 1} equal {queries.equal.length > 2 ? 'ones' : 'one'}</strong> <kbd>A</kbd></button
        >
      {/if}
      {#if others.length}
        <button class="plain" onclick={toAlike}
          ><strong>{others.length === 1 ? '1 more looks alike' : `${others.length} more look alike`}</strong>
          ({pagesOfOthers.length === 1 ? 'page' : 'pages'} {pagesOfOthers.slice(0, 6).join(', ')}{pagesOfOthers.length > 6 ? ' …' : ''}) <kbd>A</kbd></button
        >
      {/if}
      <button class="plain" onclick={() => queries.step(1)}>next <kbd>N</kbd></button>
      <button class="plain" onclick={() => queries.step(-1)}>back <kbd>B</kbd></button>
      <button class="plain" onclick={() => queries.leave()}>leave for later <kbd>L</kbd></button>
      {#if typing !== 'nothing'}<button class="plain" onclick={() => input?.focus()}>type <kbd>T</kbd></button>{/if}
      <button class="plain" onclick={() => (showKind = true)}>all of this kind <kbd>K</kbd></button>
      <button class="plain" onclick={() => (queries.current = null)}>close <kbd>Esc</kbd></button>
    </p>
  </div>
</section>
{#if showAlike}<AlikeSheet {proof} {standing} {others} close={() => (showAlike = false)} />{/if}
{#if showKind}<KindSheet {proof} kind={query.kind} close={() => (showKind = false)} />{/if}

<style>
  .slip {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 46px minmax(0, 1fr);
    border-block: 2px solid var(--verdigris);
    background: var(--verdigris-wash);
    outline: none;
    /* Under a table that is higher than the window it stays in sight. */
    position: sticky;
    bottom: 0;
    z-index: 3;
  }
  .word {
    grid-column: 1;
    padding: 12px 14px;
    overflow: hidden;
  }
  .enlarged {
    position: relative;
    overflow: hidden;
  }
  .enlarged img {
    display: block;
    max-width: none;
    mix-blend-mode: multiply;
  }
  .mark {
    position: absolute;
    border-bottom: 3px solid var(--saffron);
    background: rgb(168 82 8 / 10%);
  }
  p {
    margin: 6px 0 0;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .whole {
    font-family: var(--serif);
    font-size: 18px;
  }
  .answers {
    grid-column: 2 / -1;
    padding: 12px 18px 12px 14px;
    border-left: 1px solid var(--paper-edge);
  }
  .what {
    margin: 0 0 10px;
  }
  .what strong {
    color: var(--saffron);
    margin-right: 4px;
  }
  .readings {
    display: flex;
    flex-wrap: wrap;
    gap: 9px;
  }
  .reading {
    display: inline-flex;
    gap: 9px;
    align-items: center;
    min-height: 36px;
    padding: 4px 13px 4px 9px;
    border: 1px solid #c9bda4;
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font-family: var(--serif);
    font-size: 17px;
    cursor: pointer;
  }
  .reading:hover {
    border-color: var(--verdigris);
  }
  .reading kbd {
    border-color: var(--ink);
    background: var(--ink);
    color: var(--sheet);
  }
  .reading span {
    overflow-wrap: anywhere;
    text-align: left;
  }
  input {
    width: 150px;
    height: 36px;
    padding: 0 11px;
    border: 1px solid #c9bda4;
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font-family: var(--serif);
    font-size: 17px;
  }
  input::placeholder {
    color: #6f6a5e;
  }
  .more {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 18px;
    margin-top: 10px;
  }
  .plain {
    padding: 0;
    border: 0;
    background: none;
    color: var(--ink-soft);
    font: inherit;
    cursor: pointer;
  }
  .plain strong {
    color: var(--ink);
  }
  @media (max-width: 700px) {
    .slip {
      position: fixed;
      inset: auto 0 0;
      z-index: 20;
      grid-template-columns: minmax(0, 1fr);
      max-height: 62vh;
      overflow-y: auto;
      box-shadow: 0 -6px 18px rgb(29 37 48 / 18%);
    }
    .word,
    .answers {
      grid-column: 1;
      border-left: 0;
    }
    .word {
      padding-bottom: 0;
    }
    .enlarged {
      max-height: 110px;
    }
    .plain kbd {
      display: none;
    }
    .reading,
    input {
      min-height: 46px;
    }
    .reading {
      flex: 1 1 40%;
    }
    .plain {
      min-height: 40px;
    }
    .more {
      gap: 2px 20px;
    }
  }
</style>
