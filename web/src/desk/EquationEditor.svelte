<script lang="ts">
  /** The equation in hand: typed in TeX, drawn while it is typed, and said in words. */
  import { onMount } from 'svelte';
  import { api, type Equation, type Inline, type ReadEquation, type TexCommand, type TextBlock } from '../api/client';
  import { plainOf } from '../shared/blocks';
  import { drawn, show, texCommands } from '../shared/equations';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import { makePicture } from './rowActions';

  interface Props {
    proof: Proof;
    block: TextBlock;
    /** The place of the equation in the plain text of the row; nothing stands there yet if it is a new one. */
    at: number;
    fresh: boolean;
    language: string;
  }
  let { proof, block, at, fresh, language }: Props = $props();

  const OFFERED = 5; // commands that are offered at once
  const PAUSE = 150; // milliseconds without a key after which what was typed is read

  let field: HTMLInputElement;
  let view: HTMLElement;
  let tex = $state('');
  let read = $state.raw<ReadEquation | null>(null);
  let said = $state('');
  let timer: ReturnType<typeof setTimeout> | undefined;
  let asked = 0;
  let commands = $state.raw<TexCommand[]>([]);
  let offered = $state.raw<TexCommand[]>([]);
  let chosen = $state(0);

  const content = $derived(block.content ?? []);
  const places = $derived.by(() => {
    let place = 0;
    return content.flatMap((item) => {
      const own = place;
      place += plainOf(item).length;
      return item.type === 'equation' ? [{ at: own, item }] : [];
    });
  });
  const standing = $derived(fresh ? null : (places.find((one) => one.at === at)?.item ?? null));
  const display = $derived(standing?.display ?? false);

  onMount(() => {
    void texCommands().then((all) => {
      commands = all;
      offer();
    });
    const equation = standing;
    if (equation)
      void drawn(equation, language).then((one) => {
        tex = one.tex;
        said = one.said;
        show(view, one);
        queueMicrotask(() => field.select());
      });
    // A click that opens it also takes the row in hand, which draws the focus to it.
    const focus = setTimeout(() => field.focus());
    return () => {
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
    if (mine !== asked) return answer;
    read = answer;
    if (answer.drawn) {
      said = answer.drawn.said;
      show(view, answer.drawn);
    }
    return answer;
  }

  /** The content with something else in the place of the equation. */
  function replaced(by: readonly Inline[]): Inline[] {
    const out: Inline[] = [];
    let place = 0;
    let done = false;
    for (const item of content) {
      const length = plainOf(item).length;
      if (!done && fresh && item.type === 'text' && place <= at && at < place + length) {
        out.push({ ...item, text: item.text.slice(0, at - place) }, ...by, { ...item, text: item.text.slice(at - place) });
        done = true;
      } else if (!done && place === at) {
        out.push(...by, ...(fresh ? [item] : []));
        done = true;
      } else out.push(item);
      place += length;
    }
    if (!done) out.push(...by);
    return out.filter((item) => item.type !== 'text' || item.text !== '');
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
    } else if (!fresh) await proof.send({ op: 'edit_text', block: block.id, content: replaced([]) });
    close();
  }

  async function makeText() {
    await proof.send({ op: 'edit_text', block: block.id, content: replaced(tex ? [{ type: 'text', text: tex }] : []) });
    close();
  }

  async function copy(form: 'tex' | 'mathml') {
    const answer = await readNow();
    if (!answer.drawn) return;
    try {
      await navigator.clipboard.writeText(answer.drawn[form]);
      notices.say(form === 'tex' ? 'The equation is copied as TeX.' : 'The equation is copied as MathML.');
    } catch {
      notices.say('The browser does not let the application copy. Mark the TeX and copy it with Ctrl C.', undefined, 'wrong');
    }
  }

  function step(by: number) {
    const n = places.findIndex((one) => one.at === at) + by;
    if (places[n]) proof.equation = { block: block.id, at: places[n]!.at, fresh: false };
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
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions: the keys are those of the field in it -->
<div class="equation-editor" role="group" aria-label="Equation in hand" onkeydown={pressed}>
  <div class="view" bind:this={view} aria-hidden="true"></div>
  <label
    >TeX <input
      bind:this={field}
      bind:value={tex}
      oninput={() => (typed(), offer())}
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
  <p id="equation-said">{said ? `Said aloud: “${said}”` : 'Type it in TeX, such as \\frac{a}{b} or x_1^2, or paste MathML.'}</p>
  <div class="small-tools" role="toolbar" aria-label="Tools for the equation">
    <button onclick={() => void save()} title="Keep it (Enter)">Keep</button>
    {#if !fresh}<button onclick={() => void makeText()} title="Its TeX as text of the row">Make it text</button>{/if}
    {#if display && block.spots?.length === 1}
      <button onclick={() => (close(), void makePicture(proof, block))} title="The place on the page as a picture">Make it a picture</button>
    {/if}
    {#if standing}
      <button onclick={() => void copy('tex')} title="Copy it as TeX">Copy TeX</button>
      <button onclick={() => void copy('mathml')} title="Copy it as MathML">Copy MathML</button>
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
