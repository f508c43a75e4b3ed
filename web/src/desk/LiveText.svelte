<script lang="ts">
  /** The live editor on a text block, made anew whenever the clerk opens it; what is typed is saved in pauses. */
  import { onDestroy, onMount, tick, untrack } from 'svelte';
  import type { Inline, TabStop, TextBlock } from '../api/client';
  import type { Proof } from '../state/proof.svelte';
  import { openEditor, type RowEditor, type RowEvents } from './editor';
  import { pressAgain, textAhead } from './keysAhead';
  import { tabbed } from './tabStops';

  interface Props {
    proof: Proof;
    block: TextBlock;
    label: string;
    /** In which equations are said. */
    language: string;
    /** What keys at the ends of the text do; what was typed is saved before. */
    events: Omit<RowEvents, 'changed' | 'undo' | 'redo' | 'tools'>;
    /** Opens the editor again after an undo, or closes it where the row is gone. */
    reopen: () => void;
    editor?: RowEditor | null;
    /** The element that the text is in. */
    mount?: HTMLElement;
    stops?: readonly TabStop[];
  }
  let { proof, block, label, language, events, reopen, editor = $bindable(null), mount = $bindable(), stops = [] }: Props = $props();

  const PAUSE = 450; // milliseconds without a key after which what was typed is saved

  let pending: Inline[] | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;

  export function flush() {
    clearTimeout(timer);
    if (pending) void proof.send({ op: 'edit_text', block: block.id, content: pending });
    pending = null;
  }

  /** From typing to the tools below: Tab is for the text, or goes from cell to cell. */
  function tools(): boolean {
    const first = mount?.closest('.proof')?.querySelector<HTMLElement>('[role="toolbar"] :is(button, select):not(:disabled)');
    first?.focus();
    return first !== undefined;
  }

  const saved =
    <A extends unknown[]>(act: (...given: A) => boolean) =>
    (...given: A) => {
      flush();
      return act(...given);
    };

  /** Does what keys ask for that were pressed before the editor was there: the text is parted, or left, and the others go where they belong then. */
  function goOn([key, ...others]: string[]) {
    if (key === 'Enter') {
      saved(events.split)(editor?.offset() ?? 0);
      proof.keysAhead?.push(...others);
    } else {
      saved(events.leave)(0);
      void tick().then(() => others.forEach(pressAgain));
    }
  }

  $effect(() => {
    const opened = untrack(() => {
      const [ahead, others] = textAhead(proof.keysAhead ?? []);
      proof.keysAhead = null;
      if (others.length) queueMicrotask(() => goOn(others));
      return openEditor(mount!, label, language, block.content ?? [], proof.editing?.at ?? -1, ahead, {
        changed: (content) => {
          pending = content;
          clearTimeout(timer);
          timer = setTimeout(flush, PAUSE);
        },
        split: saved(events.split),
        joinBefore: saved(events.joinBefore),
        joinAfter: saved(events.joinAfter),
        leave: saved(events.leave),
        tab: saved(events.tab),
        equation: saved(events.equation),
        pasted: events.pasted && saved(events.pasted),
        tools,
        undo: saved(() => (void proof.undo().then(reopen), true)),
        redo: saved(() => (void proof.redo().then(reopen), true)),
      });
    });
    editor = opened;
    return () => {
      flush();
      opened.destroy();
      if (editor === opened) editor = null;
    };
  });
  onDestroy(flush);

  /** A dialog that has closed gives the focus back to the row, late: while a text in it is open, keys are for typing and no commands. */
  function keepFocus(event: FocusEvent) {
    const to = event.relatedTarget;
    if (proof.editing && to instanceof HTMLElement && mount && to.contains(mount)) queueMicrotask(() => editor?.focus());
  }

  onMount(() => {
    // Whoever closes the window has typed what he has typed.
    addEventListener('pagehide', flush);
    return () => removeEventListener('pagehide', flush);
  });
</script>

<div class="text typing" bind:this={mount} use:tabbed={stops} onfocusout={keepFocus}></div>

<style>
  .typing {
    text-indent: var(--first);
    flex: 1;
    min-width: 0;
    min-height: 1.45em;
    outline: 0;
    background: linear-gradient(var(--verdigris-wash), var(--verdigris-wash)) bottom / 100% 2px no-repeat;
    cursor: text;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
  .typing :global(strong) {
    font-weight: var(--emphasis-weight);
  }
  .typing :global(em) {
    font-style: var(--emphasis-style);
  }
  .typing :global(.in-line) {
    height: 1.15em;
    vertical-align: text-bottom;
  }
  .typing :global(.note-mark) {
    padding: 0 2px;
    border-radius: 2px;
    background: var(--verdigris-wash);
    color: var(--verdigris);
  }
  .typing :global(.run-in) {
    border-bottom: 1px dashed var(--verdigris);
  }
  .typing :global(.link) {
    color: var(--verdigris);
    text-decoration: underline;
  }
</style>
