<script lang="ts">
  /** The named styles of the document, each shown by its own text. The one in hand is said as a sentence whose words are changed in place. */
  import { api, type Align, type DocumentRow, type Operation, type ResolvedStyle, type StyleUse } from '../api/client';
  import { ALIGNMENTS, isText } from '../shared/blocks';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import { entriesOf } from './entries.svelte';
  import { textLook } from './looks';
  import OfficeLooks from './OfficeLooks.svelte';
  import PlainQuestion from './PlainQuestion.svelte';
  import TypefaceList from './TypefaceList.svelte';

  let { proof, go, close }: { proof: Proof; go: (place: number, block: string) => void; close: () => void } = $props();

  type Look = Extract<Operation, { op: 'change_style' }>['look'];

  // svelte-ignore state_referenced_locally: the desk is made anew for another document
  const styles = entriesOf(proof, api.styles);
  const uses = $derived(styles.list ?? []);
  let asked = $state(false);
  let inHand = $state<string | null>(null);
  let list = $state<HTMLElement>();

  const body = $derived(uses[0]?.style.size ?? 11);
  /** Rows of text that are marked, or the one that is selected, or the text of the cell in hand. */
  const texts = $derived.by(() => {
    const cell = proof.editing?.text;
    return cell ? [cell] : proof.inHand.filter(isText).map((block) => block.id);
  });
  const styleOfRow = $derived.by(() => {
    const block = proof.block(proof.selected);
    return block && isText(block) ? block.style : undefined;
  });
  const fonts = $derived([
    ...new Set([...uses.map((use) => use.style.font).filter(Boolean), 'Libertinus Serif', 'Liberation Serif', 'Liberation Sans', 'Liberation Mono', 'Carlito', 'Caladea']),
  ]);

  const change = (use: StyleUse, look: Look) => void proof.send({ op: 'change_style', style: use.style.id, look });

  function changeNumber(use: StyleUse, field: 'size' | 'leading' | 'before' | 'after' | 'left' | 'first', input: HTMLInputElement) {
    const value = Number(input.value.replace(',', '.'));
    if (input.value.trim() && Number.isFinite(value) && value !== (use.style[field] ?? 0)) change(use, { [field]: value });
    else input.value = shown(use.style[field] ?? 0);
  }

  const shown = (value: number) => String(Math.round(value * 100) / 100);

  function give(use: StyleUse) {
    void proof.send({ op: 'apply_style', blocks: texts, style: use.style.id });
  }

  function merge(use: StyleUse, select: HTMLSelectElement) {
    const into = select.value;
    select.value = '';
    if (!into) return;
    inHand = into;
    void proof.send({ op: 'merge_styles', style: use.style.id, into });
  }

  /** A new style of the row in hand, with a name that is free. */
  async function fromRow() {
    const [block] = texts;
    if (!block) return;
    let name = 'New style';
    for (let n = 2; uses.some((use) => use.style.name === name); n++) name = `New style ${n}`;
    if (await proof.send({ op: 'new_style', block, name })) inHand = name;
  }

  let others = $state.raw<DocumentRow[]>([]);
  let picker = $state<HTMLInputElement>();

  async function listOthers() {
    try {
      others = (await api.list()).filter((one) => one.id !== proof.id && one.pages_read);
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Takes the looks of styles over from another document here, or from a file. */
  async function take(ask: () => Promise<readonly ResolvedStyle[]>) {
    try {
      await proof.send({ op: 'take_styles', styles: [...(await ask())] });
    } catch (error) {
      notices.wrong(error);
    }
  }

  function takeFrom(select: HTMLSelectElement) {
    const from = select.value;
    select.value = '';
    if (from) void take(async () => (await api.styles(from)).map((use) => use.style));
  }

  function takeFile() {
    const file = picker?.files?.[0];
    if (picker) picker.value = '';
    if (!file) return;
    void take(async () => {
      const { styles, macros } = await api.templateStyles(file);
      if (macros) notices.say('The file has macros. They were not run.');
      return styles;
    });
  }

  /** The next row of a style, or the one before. */
  function step(use: StyleUse, by: -1 | 1) {
    const at = proof.place(proof.selected);
    const next = by > 0 ? (use.places.find((place) => place > at) ?? use.places[0]) : (use.places.findLast((place) => place < at) ?? use.places.at(-1));
    if (next !== undefined) go(next, proof.blocks[next]?.id ?? '');
  }

  function pressed(event: KeyboardEvent, n: number) {
    const all = list?.querySelectorAll<HTMLElement>('.named');
    if (event.key === 'ArrowDown') all?.[n + 1]?.focus();
    else if (event.key === 'ArrowUp') all?.[n - 1]?.focus();
    else if (event.key === 'Escape') close();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<p class="head">{uses.length} in this document</p>
<ol bind:this={list}>
  {#each uses as use, n (use.style.id)}
    {@const style = use.style}
    <li class:in-hand={inHand === style.id}>
      <button
        class="named"
        class:unused={!use.count}
        aria-expanded={inHand === style.id}
        aria-current={styleOfRow === style.id ? 'true' : undefined}
        onclick={() => (inHand = inHand === style.id ? null : style.id)}
        onkeydown={(event) => pressed(event, n)}
      >
        <span class="sample" style={textLook(style, body, 1.15, 'left')}>{use.sample || style.name}</span>
        <small>{style.name} · {use.count}</small>
      </button>
      {#if inHand === style.id}
        <div class="said" role="group" aria-label="Style {style.name}">
          <p>
            Set in <input class="font" list="fonts" aria-label="Typeface" value={style.font || 'Liberation Serif'} disabled={proof.readOnly} onchange={(event) => change(use, { font: event.currentTarget.value })} />
            at <input class="number" inputmode="decimal" aria-label="Size in points" value={shown(style.size ?? 11)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'size', event.currentTarget)} /> pt,
            <button class="word" aria-pressed={!!style.bold} disabled={proof.readOnly} onclick={() => change(use, { bold: !style.bold })}>{style.bold ? 'bold' : 'not bold'}</button>,
            <button class="word" aria-pressed={!!style.italic} disabled={proof.readOnly} onclick={() => change(use, { italic: !style.italic })}>{style.italic ? 'italic' : 'upright'}</button>, in
            <input type="color" aria-label="Colour" value="#{style.color ?? '1a1a1a'}" disabled={proof.readOnly} onchange={(event) => change(use, { color: event.currentTarget.value.slice(1) })} />{#if style.color}
              <button class="word" disabled={proof.readOnly} onclick={() => change(use, { color: '' })}>no colour</button>{/if};
            lines every <input class="number" inputmode="decimal" aria-label="Points from line to line, 0 for single" value={shown(style.leading ?? 0)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'leading', event.currentTarget)} />
            pt{style.leading ? '' : ' (single)'},
            <input class="number" inputmode="decimal" aria-label="Points before" value={shown(style.before ?? 0)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'before', event.currentTarget)} /> pt before,
            <input class="number" inputmode="decimal" aria-label="Points after" value={shown(style.after ?? 0)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'after', event.currentTarget)} /> pt after;
            <select class="word" aria-label="Alignment" value={style.align ?? 'left'} disabled={proof.readOnly} onchange={(event) => change(use, { align: event.currentTarget.value as Align })}>
              {#each ALIGNMENTS as one (one.value)}<option value={one.value}>{one.name.toLowerCase()}</option>{/each}
            </select>, in by
            <input class="number" inputmode="decimal" aria-label="Points from the left margin" value={shown(style.left ?? 0)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'left', event.currentTarget)} /> pt, its first line by
            <input class="number" inputmode="decimal" aria-label="Points of the first line more" value={shown(style.first ?? 0)} disabled={proof.readOnly} onchange={(event) => changeNumber(use, 'first', event.currentTarget)} /> pt more;
            <button class="word" aria-pressed={!!style.keep_next} disabled={proof.readOnly} onclick={() => change(use, { keep_next: !style.keep_next })}>{style.keep_next ? 'kept with the next row' : 'not kept with the next row'}</button>.
          </p>
          <p class="acts">
            <label>called <input class="font" aria-label="Name of the style" value={style.name} disabled={proof.readOnly} onchange={(event) => change(use, { name: event.currentTarget.value })} /></label>
          </p>
          <p class="acts">
            <button disabled={proof.readOnly || !texts.length || (texts.length === 1 && styleOfRow === style.id)} onclick={() => give(use)}>{texts.length > 1 ? `Give it to ${texts.length} rows` : 'Give it to the row in hand'}</button>
            <button disabled={!use.places.length} onclick={() => step(use, -1)}>Row before</button>
            <button disabled={!use.places.length} onclick={() => step(use, 1)}>Next row</button>
            {#if n > 0}
              <select aria-label="Merge it with" disabled={proof.readOnly} onchange={(event) => merge(use, event.currentTarget)}>
                <option value="">Merge it with…</option>
                {#each uses.filter((one) => one !== use) as one (one.style.id)}<option value={one.style.id}>{one.style.name}</option>{/each}
              </select>
            {/if}
          </p>
        </div>
      {/if}
    </li>
  {/each}
  <li><TypefaceList {proof} /></li>
  <li><OfficeLooks {proof} {take} /></li>
  <li class="foot"><button disabled={proof.readOnly || texts.length !== 1} onclick={fromRow}>New style from the row in hand</button>
    <button disabled={proof.readOnly} onclick={() => (asked = true)}>Everything plain…</button>
    <button disabled={proof.readOnly} title="Segments for translation" onclick={() => void proof.send({ op: 'split_sentences', blocks: [] })}>A row for each sentence</button>
    <button disabled={proof.readOnly} title="Makes paragraphs of rows that were cut into sentences" onclick={() => void proof.send({ op: 'join_sentences' })}>Sentences into paragraphs</button>
    <select aria-label="Looks from another document" disabled={proof.readOnly} onfocus={listOthers} onchange={(event) => takeFrom(event.currentTarget)}>
      <option value="">Looks from another document…</option>
      {#each others as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
    </select>
    <button disabled={proof.readOnly} onclick={() => picker?.click()}>Looks from a DOCX file…</button>
    <input bind:this={picker} class="hidden-but-read" type="file" accept=".docx,.dotx,.docm,.dotm" tabindex="-1" aria-label="DOCX file to take looks from" onchange={takeFile} /></li>
</ol>
{#if asked}<PlainQuestion {proof} fonts={fonts.filter((font) => font !== uses[0]?.style.font) as string[]} close={() => (asked = false)} />{/if}
<datalist id="fonts">{#each fonts as font (font)}<option value={font}></option>{/each}</datalist>

<style>
  .head {
    margin: 0;
    padding: 6px 12px;
    border-bottom: 1px solid var(--paper-edge);
    color: var(--ink-soft);
    font-size: 13px;
  }
  ol {
    flex: 1;
    margin: 0;
    padding: 0;
    overflow-y: auto;
    list-style: none;
  }
  li {
    border-bottom: 1px solid var(--paper-edge);
    border-left: 3px solid transparent;
  }
  .in-hand {
    border-left-color: var(--verdigris);
    background: var(--verdigris-wash);
  }
  .named {
    display: flex;
    gap: 10px;
    align-items: baseline;
    justify-content: space-between;
    width: 100%;
    min-height: 40px;
    padding: 6px 10px;
    border: 0;
    background: none;
    color: var(--ink);
    font: inherit;
    text-align: left;
    cursor: pointer;
  }
  .named:hover {
    background: var(--paper);
  }
  .named[aria-current] small {
    color: var(--verdigris);
    font-weight: 650;
  }
  .sample {
    min-width: 0;
    line-height: 1.4;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .unused .sample {
    opacity: 0.6;
  }
  small {
    flex: none;
    max-width: 55%;
    overflow: hidden;
    color: var(--ink-soft);
    font-size: 12px;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .said {
    padding: 0 12px 10px;
    font-size: 13.5px;
    line-height: 2.05;
  }
  .said p {
    margin: 0;
    font-size: inherit;
    line-height: inherit;
  }
  .said :is(input:not([type='color']), .word) {
    padding: 1px 3px;
    border: 0;
    border-bottom: 2px solid var(--verdigris);
    border-radius: 0;
    background: none;
    color: var(--ink);
    font: inherit;
    font-weight: 650;
    line-height: 1.3;
    cursor: pointer;
  }
  .said :is(input:not([type='color']), .word):hover {
    background: var(--sheet);
  }
  .number {
    width: 2.9em;
    text-align: right;
  }
  .font {
    width: 10.5em;
  }
  input[type='color'] {
    width: 26px;
    height: 20px;
    padding: 0;
    border: 1px solid var(--ink-soft);
    vertical-align: middle;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 5px;
    padding-top: 6px;
  }
  :is(.acts, .foot) > :is(button, select) {
    height: 28px;
    padding: 0 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--paper);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    line-height: 1.2;
    cursor: pointer;
  }
  :is(.acts, .foot) > button:disabled {
    color: #857f72;
    cursor: default;
  }
  .acts select {
    max-width: 150px;
  }
  .foot select {
    max-width: 100%;
  }
  .foot {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    padding: 10px;
    border-bottom: 0;
  }
</style>
