<script lang="ts">
  /** Text found in all of the document, each hit with its piece of the page; all, some or one replaced as one step. */
  import { onMount, untrack } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { api, stripAddress, type Found, type Hit, type Search } from '../api/client';
  import { BOLD, ITALIC, SMALL_CAPITALS, UNDERLINE } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';

  interface Props {
    proof: Proof;
    /** What is looked for first. */
    first: string;
    go: (place: number, block: string) => void;
    close: () => void;
  }
  let { proof, first, go, close }: Props = $props();

  const PAUSE = 220; // milliseconds after a key before it is looked for
  const AROUND = 46; // points of the page beside a hit that are shown
  const SHOWN = 14; // characters before a hit
  const LOOKS = [
    [BOLD, 'Bold'],
    [ITALIC, 'Italic'],
    [UNDERLINE, 'Underlined'],
    [SMALL_CAPITALS, 'Small capitals'],
  ] as const;

  let text = $state(untrack(() => first));
  let becomes = $state('');
  let words = $state(false);
  let sameCase = $state(false);
  let pattern = $state(false);
  let style = $state('');
  let marks = $state(0);

  let found = $state.raw<Found | null>(null);
  let problem = $state('');
  const spared = new SvelteSet<string>();
  let field: HTMLInputElement;
  let list = $state<HTMLElement>();

  const search = $derived<Search>({ text, pattern, whole_words: words, case: sameCase, style, marks });
  const hits = $derived(found?.hits ?? []);
  const taken = $derived(hits.filter((hit) => !spared.has(key(hit))));
  const count = $derived(spared.size ? taken.length : (found?.total ?? 0));

  /** The end of what stands before a hit, so that the hit is in view. */
  const ending = (before: string) => (before.length > SHOWN ? '…' + before.slice(-SHOWN) : before);

  function key(hit: Hit): string {
    return `${hit.place} ${hit.start}`;
  }

  $effect(() => {
    const wanted = { find: search, becomes };
    void proof.revision;
    if (!text && !style && !marks) {
      found = null;
      problem = '';
      return;
    }
    let stale = false;
    const waiting = setTimeout(async () => {
      try {
        const answer = await api.find(proof.id, wanted);
        if (stale) return;
        found = answer;
        problem = '';
      } catch (error) {
        if (stale) return;
        found = null;
        problem = error instanceof Error ? error.message : String(error);
      }
    }, PAUSE);
    return () => {
      stale = true;
      clearTimeout(waiting);
    };
  });

  // Another search spares nothing.
  $effect(() => {
    void search;
    spared.clear();
  });

  async function replaceThese(chosen: readonly Hit[] | null) {
    proof.editing = null;
    const places = (chosen ?? []).map((hit) => ({ place: hit.place, start: hit.start }));
    const change = await proof.send({ op: 'replace_text', find: search, text: becomes, places });
    if (change) spared.clear();
  }

  const strip = (hit: Hit) => {
    const [x0, y0, x1, y1] = hit.box as unknown as [number, number, number, number];
    return stripAddress(proof.id, hit.page!, [x0 - AROUND, y0 - 2, Math.min(x1, x0 + 140) + AROUND, y1 + 2], 1.6, proof.view, proof.pages.get(hit.page!)?.reading ?? 0);
  };

  function pressed(event: KeyboardEvent, at: number) {
    const all = list?.querySelectorAll<HTMLElement>('.hit');
    if (event.key === 'ArrowDown') all?.[at + 1]?.focus();
    else if (event.key === 'ArrowUp') (at ? all?.[at - 1] : field)?.focus();
    else if (event.key === 'Escape') close();
    else if (event.key.toLowerCase() === 'x' && !event.ctrlKey && !event.metaKey) spare(hits[at]!);
    else if (event.key.toLowerCase() === 'r' && !event.ctrlKey && !event.metaKey && text && !proof.readOnly) void replaceThese([hits[at]!]);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function pressedInField(event: KeyboardEvent) {
    if (event.key === 'Escape') close();
    else if (event.key === 'ArrowDown') list?.querySelector<HTMLElement>('.hit')?.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function spare(hit: Hit) {
    if (spared.has(key(hit))) spared.delete(key(hit));
    else spared.add(key(hit));
  }

  onMount(() => field.select());
</script>

<div class="asked" role="search" aria-label="Find in the document">
  <label>Find <input bind:this={field} bind:value={text} onkeydown={pressedInField} autocomplete="off" spellcheck="false" maxlength="500" /></label>
  <label>Make it <input bind:value={becomes} onkeydown={pressedInField} autocomplete="off" spellcheck="false" /></label>
  <div class="ways">
    <label><input type="checkbox" bind:checked={words} /> whole words</label>
    <label><input type="checkbox" bind:checked={sameCase} /> same case</label>
    <label title="A regular expression; \1 stands for what its first group has"><input type="checkbox" bind:checked={pattern} /> pattern</label>
  </div>
  <div class="ways">
    <select aria-label="In style" bind:value={style}>
      <option value="">any style</option>
      {#each proof.opened?.styles ?? [] as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
    </select>
    <select aria-label="In the look" bind:value={marks}>
      <option value={0}>any look</option>
      {#each LOOKS as [flag, name] (flag)}<option value={flag}>{name}</option>{/each}
    </select>
  </div>
  <p role="status">
    {#if problem}{problem}{:else if found}{found.total === 0 ? 'Not found.' : `${found.total} found`}{found.total > hits.length ? `, the first ${hits.length} shown` : ''}{/if}
  </p>
  <button class="all" disabled={!count || !text || proof.readOnly} onclick={() => replaceThese(spared.size ? taken : null)}
    >{spared.size ? `Replace ${count}` : count === 1 ? 'Replace it' : `Replace all ${count || ''}`}</button
  >
</div>
<ol bind:this={list}>
  {#each hits as hit, n (key(hit))}
    <li class:spared={spared.has(key(hit))}>
      <button
        class="hit"
        title="Go to it (Enter), leave it as it is (X), replace it alone (R)"
        aria-pressed={spared.has(key(hit))}
        onclick={() => hit.row >= 0 && go(hit.row, proof.blocks[hit.row]?.id ?? hit.place)}
        onkeydown={(event) => pressed(event, n)}
      >
        {#if hit.page && hit.box}<img loading="lazy" src={strip(hit)} alt="" />{/if}
        <span class="line"
          >{ending(hit.before)}<b>{hit.text}</b>{#if becomes}<ins>{hit.becomes}</ins>{/if}{hit.behind}</span
        >
        <small>{hit.row < 0 ? 'running head or foot' : hit.page ? `page ${proof.labelOf(hit.page)}` : `row ${hit.row + 1}`}{spared.has(key(hit)) ? ', stays as it is' : ''}</small>
      </button>
    </li>
  {/each}
</ol>

<style>
  .asked {
    display: grid;
    gap: 6px;
    padding: 8px 10px;
    border-bottom: 1px solid var(--paper-edge);
    font-size: 13px;
  }
  .asked > label {
    display: grid;
    grid-template-columns: 54px 1fr;
    gap: 6px;
    align-items: center;
  }
  input:not([type='checkbox']),
  select,
  .all {
    min-width: 0;
    height: 30px;
    padding: 0 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--sheet);
    color: var(--ink);
    font: inherit;
    font-size: 14px;
  }
  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    font-size: 12px;
  }
  .ways label {
    display: flex;
    gap: 2px;
    align-items: center;
  }
  .ways select {
    flex: 1;
  }
  p {
    min-height: 1.3em;
    margin: 0;
    color: var(--ink-soft);
  }
  .all {
    background: var(--verdigris);
    color: var(--sheet);
    cursor: pointer;
  }
  .all:disabled {
    border-color: var(--paper-edge);
    background: var(--paper);
    color: #857f72;
    cursor: default;
  }
  ol {
    flex: 1;
    margin: 0;
    padding: 0;
    overflow-y: auto;
    list-style: none;
  }
  li {
    content-visibility: auto;
    contain-intrinsic-height: auto 76px;
  }
  .hit {
    display: grid;
    gap: 2px;
    width: 100%;
    padding: 7px 10px;
    border: 0;
    border-bottom: 1px solid var(--paper-edge);
    background: none;
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    text-align: left;
    cursor: pointer;
  }
  .hit:hover {
    background: var(--paper);
  }
  .hit:focus-visible {
    outline: 2px solid var(--verdigris);
    outline-offset: -2px;
  }
  img {
    max-width: 100%;
    max-height: 34px;
    mix-blend-mode: multiply;
  }
  .line {
    overflow: hidden;
    font-family: var(--serif);
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  b {
    background: var(--saffron-wash);
  }
  ins {
    margin-left: 3px;
    color: var(--verdigris);
    font-weight: 650;
    text-decoration: none;
  }
  .spared :is(.line, img) {
    opacity: 0.55;
  }
  small {
    color: var(--ink-soft);
    font-size: 12px;
  }
</style>
