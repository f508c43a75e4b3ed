<script lang="ts">
  /** The equation in hand: typed in TeX, drawn while it is typed, and said in words. A part that is pointed at is marked in the TeX; a
   * rectangle that is drawn on the row's strip is read to where the caret is. */
  import { onMount } from 'svelte';
  import { api, type Equation, type Inline, type ReadEquation, type TexCommand, type TextBlock } from '../api/client';
  import { ITALIC, plainOf, textOf } from '../shared/blocks';
  import { drawn, show, texCommands } from '../shared/equations';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import type { Area } from '../state/sheet.svelte';
  import { isSame, narrower, partAt, showMarked, wider, type Place } from './equationParts';
  import { makePicture, openEquation } from './rowActions';

  interface Props {
    proof: Proof;
    block: TextBlock;
    /** The characters of the row's plain text that the equation is or takes the place of; none for a new one. */
    at: number;
    until: number;
    language: string;
  }
  let { proof, block, at, until, language }: Props = $props();

  const OFFERED = 5; // commands that are offered at once
  const PAUSE = 150; // milliseconds without a key after which what was typed is read

  let box: HTMLElement;
  let field: HTMLInputElement;
  let view: HTMLElement;
  let tex = $state('');
  let read = $state.raw<ReadEquation | null>(null);
  let said = $state('');
  let reading = $state(false);
  let timer: ReturnType<typeof setTimeout> | undefined;
  let asked = 0;
  let gone = false; // what comes after it was closed is not shown
  let commands = $state.raw<TexCommand[]>([]);
  let offered = $state.raw<TexCommand[]>([]);
  let chosen = $state(0);

  const content = $derived(block.content ?? []);
  /** The place of an element in the row's plain text. */
  const startOf = (n: number) => textOf(content.slice(0, n)).length;
  const places = $derived(content.flatMap((item, n) => (item.type === 'equation' ? [{ at: startOf(n), item }] : [])));
  const standing = $derived(until === at + 1 ? (places.find((one) => one.at === at)?.item ?? null) : null);
  /** The text that is marked, to be an equation, and whether it is slanted. */
  const letters = $derived(standing ? '' : textOf(content).slice(at, until).trim());
  const italic = $derived.by(() => {
    const marked = content.find((item, n) => startOf(n) <= at && at < startOf(n) + plainOf(item).length);
    const style = proof.opened?.styles.find((one) => one.id === block.style);
    return ((marked?.marks ?? 0) & ITALIC) > 0 !== (style?.italic ?? false);
  });
  const display = $derived(standing?.display ?? false);

  onMount(() => {
    void texCommands().then((all) => {
      commands = all;
      offer();
    });
    const equation = standing;
    if (letters) {
      tex = letters;
      queueMicrotask(() => field.select());
      void readNow();
    }
    if (equation)
      void drawn(equation, language).then((one) => {
        if (gone) return;
        tex = one.tex;
        said = one.said;
        show(view, one);
        queueMicrotask(() => field.select());
        void readNow();
      });
    // A click that opens it also takes the row in hand, which draws the focus to it.
    const focus = setTimeout(() => {
      field.focus();
      box.scrollIntoView({ block: 'nearest' });
    });
    const take = (page: number, box: Area) => void readThere(page, box);
    proof.takeFromPage = take;
    return () => {
      gone = true;
      if (proof.takeFromPage === take) proof.takeFromPage = null;
      clearTimeout(timer);
      clearTimeout(focus);
    };
  });

  /** The command that is being typed right before the caret. */
  function begun(): string {
    return /\\([A-Za-z]+)$/.exec(tex.slice(0, field.selectionStart ?? tex.length))?.[1] ?? '';
  }

  function offer() {
    const name = begun();
    offered = name ? commands.filter((one) => one.name.startsWith(name) && one.name !== name).slice(0, OFFERED) : [];
    chosen = 0;
  }

  function take(command: TexCommand) {
    const at = field.selectionStart ?? tex.length;
    const start = at - begun().length;
    tex = tex.slice(0, start) + command.name + tex.slice(at);
    offered = [];
    queueMicrotask(() => {
      field.focus();
      field.setSelectionRange(start + command.name.length, start + command.name.length);
    });
    typed();
  }

  function typed() {
    clearTimeout(timer);
    timer = setTimeout(() => void readNow(), PAUSE);
  }

  async function readNow(): Promise<ReadEquation> {
    const mine = ++asked;
    const answer = await api.readEquation(tex, display, language);
    if (mine !== asked || gone) return answer;
    read = answer;
    if (answer.drawn && tex.trimStart().startsWith('<')) {
      tex = answer.drawn.tex; // MathML that was pasted goes on as TeX
      return readNow();
    }
    if (answer.drawn) {
      said = answer.drawn.said;
      show(view, answer.drawn);
      showMarked(view, marked());
    }
    return answer;
  }

  /** The characters of the TeX that are marked. */
  const marked = (): Place => [field.selectionStart ?? 0, field.selectionEnd ?? 0];

  function mark([start, end]: Place) {
    field.focus();
    field.setSelectionRange(start, end);
    showMarked(view, [start, end]);
  }

  let last: { part: Element; place: Place } | null = null;

  /** Marks the part that is pointed at, the larger one around it if it is pointed at again. */
  function pointed(event: MouseEvent) {
    const part = partAt(view, event.target as Element);
    if (!part) return;
    const again = last?.part === part.element && isSame(last.place, marked());
    last = { part: part.element, place: again ? wider(view, marked()) : part.place };
    mark(last.place);
  }

  /** Puts TeX in the place of what is marked, or at the caret. */
  function put(text: string) {
    const [start, end] = marked();
    tex = tex.slice(0, start) + text + tex.slice(end);
    queueMicrotask(() => mark([start, start + text.length]));
    typed();
  }

  /** Reads a place on the page, and puts what it is to the caret. */
  async function readThere(page: number, box: Area) {
    reading = true;
    try {
      const there = await api.equationThere(proof.id, page, box);
      if (!there.tree) return notices.say('No equation can be read there.');
      const found = await drawn({ type: 'equation', tree: there.tree }, language);
      if (!gone) put(found.tex);
    } catch (error) {
      notices.wrong(error);
    } finally {
      reading = false;
    }
  }

  /** The content with something else in the place of the equation, or of what is marked to be one. */
  function replaced(by: readonly Inline[]): Inline[] {
    const out: Inline[] = [];
    const cut = (item: Inline, from: number, to: number) => {
      if (item.type === 'text') {
        if (from < to) out.push({ ...item, text: item.text.slice(from, to) });
      } else if (from <= 0 && to >= 1) out.push(item);
    };
    content.forEach((item, n) => cut(item, 0, Math.min(at - startOf(n), plainOf(item).length)));
    out.push(...by);
    content.forEach((item, n) => cut(item, Math.max(until - startOf(n), 0), plainOf(item).length));
    return out;
  }

  function close() {
    proof.equation = null;
  }

  async function save() {
    clearTimeout(timer);
    const answer = tex.trim() ? await readNow() : null;
    if (answer?.problem) return field.setSelectionRange(answer.at ?? 0, tex.length);
    if (answer?.tree) {
      const made: Equation = { ...(standing ?? { type: 'equation' as const }), type: 'equation', tree: answer.tree } as Equation;
      await proof.send({ op: 'edit_text', block: block.id, content: replaced([made]) });
    } else if (standing) await proof.send({ op: 'edit_text', block: block.id, content: replaced([]) });
    close();
  }

  /** Makes an equation of the same letters wherever they stand alone in the same look: in this row, or in the whole document. */
  async function saveAll(blocks: string[]) {
    const answer = await readNow();
    if (!answer.tree) return;
    const text = letters;
    const change = await proof.send({ op: 'make_equations', text, tree: answer.tree, italic, blocks });
    if (!change) return;
    notices.say(`Every “${text}” that stands alone is an equation now${blocks.length ? ' in this row' : ''}. Undo takes that back.`);
    close();
  }

  async function makeText() {
    await proof.send({ op: 'edit_text', block: block.id, content: replaced(tex ? [{ type: 'text', text: tex }] : []) });
    close();
  }

  async function copy(form: 'tex' | 'mathml' | 'picture') {
    const answer = await readNow();
    if (!answer.drawn || !answer.tree) return;
    try {
      if (form === 'picture') {
        const picture = api.equationPicture(answer.tree, display);
        await navigator.clipboard.write([new ClipboardItem({ 'image/png': picture })]);
      } else await navigator.clipboard.writeText(answer.drawn[form]);
      notices.say(`The equation is copied as ${{ tex: 'TeX', mathml: 'MathML', picture: 'a picture' }[form]}.`);
    } catch {
      notices.say('The browser does not let the application copy. Mark the TeX and copy it with Ctrl C.', undefined, 'wrong');
    }
  }

  function step(by: number) {
    const n = places.findIndex((one) => one.at === at) + by;
    if (places[n]) openEquation(proof, block.id, places[n].at);
  }

  function pressed(event: KeyboardEvent) {
    if (offered.length && event.key === 'Tab' && !event.shiftKey) take(offered[chosen]!);
    else if (offered.length && event.key === 'ArrowDown') chosen = (chosen + 1) % offered.length;
    else if (offered.length && event.key === 'ArrowUp') chosen = (chosen + offered.length - 1) % offered.length;
    else if (offered.length && event.key === 'Escape') offered = [];
    else if (event.key === 'Enter') void save();
    else if (event.key === 'Escape') close();
    else if (event.altKey && event.key === 'ArrowRight') step(1);
    else if (event.altKey && event.key === 'ArrowLeft') step(-1);
    else if (event.altKey && event.key === 'ArrowUp') mark(wider(view, marked()));
    else if (event.altKey && event.key === 'ArrowDown') mark(narrower(view, marked()));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions: the keys are those of the field in it -->
<div class="equation-editor" bind:this={box} role="group" aria-label="Equation in hand" onkeydown={pressed}>
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions: Alt ↑ and Alt ↓ mark parts too -->
  <div
    class="view"
    bind:this={view}
    aria-hidden="true"
    title="A click marks a part in the TeX, another the larger part around it (Alt ↑, Alt ↓)"
    onclick={pointed}
  ></div>
  <label
    >TeX <input
      bind:this={field}
      bind:value={tex}
      oninput={() => (typed(), offer())}
      onselect={() => showMarked(view, marked())}
      onkeyup={() => showMarked(view, marked())}
      onclick={() => showMarked(view, marked())}
      role="combobox"
      aria-autocomplete="list"
      aria-expanded={offered.length > 0}
      aria-controls="tex-commands"
      aria-activedescendant={offered.length ? `tex-command-${chosen}` : undefined}
      spellcheck="false"
      autocomplete="off"
      aria-describedby="equation-said"
      aria-invalid={read?.problem ? 'true' : undefined}
    /></label
  >
  {#if offered.length}<ul id="tex-commands" role="listbox" aria-label="Commands">
    {#each offered as one, i (one.name)}
      <li id="tex-command-{i}" role="option" aria-selected={i === chosen} onmousedown={(event) => (event.preventDefault(), take(one))}>
        <code>\{one.name}</code><span>{one.means}</span>{#if i === chosen}<kbd>Tab</kbd>{/if}
      </li>
    {/each}
  </ul>{/if}
  {#if read?.problem}<p class="problem" role="alert">{read.problem} It begins at character {(read.at ?? 0) + 1}.</p>{/if}
  {#if reading}<p role="status">Reading what you drew around …</p>{/if}
  <p id="equation-said">{said ? `Said aloud: “${said}”` : 'Type it in TeX, such as \\frac{a}{b} or x_1^2, paste MathML, or draw around it on the strip.'}</p>
  <div class="small-tools" role="toolbar" aria-label="Tools for the equation">
    <button onclick={() => void save()} title="Keep it (Enter)">Keep</button>
    {#if letters}
      <span class="group" role="group" aria-label="Every {letters} that stands alone">
        Every “{letters}”
        <button onclick={() => void saveAll([proof.selected ?? block.id])}>in this row</button>
        <button onclick={() => void saveAll([])}>in the document</button>
      </span>
    {/if}
    {#if standing}<button onclick={() => void makeText()} title="Its TeX as text of the row">Make it text</button>{/if}
    {#if display && block.spots?.length === 1}
      <button onclick={() => (close(), void makePicture(proof, block))} title="The place on the page as a picture">Make it a picture</button>
    {/if}
    {#if standing}
      <span class="group" role="group" aria-label="Copy as">
        Copy as
        <button onclick={() => void copy('tex')}>TeX</button>
        <button onclick={() => void copy('mathml')}>MathML</button>
        <button onclick={() => void copy('picture')}>Picture</button>
      </span>
    {/if}
    {#if places.length > 1}
      <button onclick={() => step(-1)} title="The equation before (Alt ←)">Before</button>
      <button onclick={() => step(1)} title="The equation after (Alt →)">After</button>
    {/if}
    <button onclick={close} title="Leave it as it was (Esc)">Close</button>
  </div>
</div>

<style>
  .equation-editor {
    margin-top: 8px;
    padding: 10px 12px;
    border-block: 2px solid var(--verdigris);
    background: var(--verdigris-wash);
  }
  .view {
    min-height: 2.6em;
    padding: 8px;
    overflow-x: auto;
    background: var(--sheet);
    font-size: 1.5em;
    text-align: center;
  }
  .view :global(math *) {
    cursor: pointer;
  }
  .view :global(.marked-part) {
    background: color-mix(in srgb, var(--verdigris) 22%, transparent);
  }
  .group {
    display: inline-flex;
    gap: 4px;
    align-items: center;
    margin-inline: 6px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
    margin-top: 8px;
    font-size: 13px;
  }
  input {
    flex: 1;
    min-width: 0;
    padding: 6px 8px;
    border: 1px solid var(--ink-soft);
    background: var(--sheet);
    color: var(--ink);
    font-family: var(--mono);
    font-size: 14px;
    line-height: 1.5;
  }
  ul {
    margin: 2px 0 0 36px;
    padding: 0;
    border: 1px solid var(--paper-edge);
    background: var(--sheet);
    list-style: none;
  }
  li {
    display: flex;
    gap: 10px;
    padding: 3px 8px;
    color: var(--ink);
    font-size: 13px;
    cursor: pointer;
  }
  li[aria-selected='true'] {
    background: var(--verdigris-wash);
  }
  li span {
    flex: 1;
    text-align: end;
  }
  p {
    margin: 6px 0;
    color: var(--ink-soft);
    font-family: var(--sans);
    font-size: 13px;
  }
  .problem {
    color: var(--alarm);
    font-weight: 600;
  }
</style>
