<script lang="ts">
  /** The text of a block: drawn plainly, and with the live editor while it is typed in. */
  import { onDestroy, untrack } from 'svelte';
  import type { Run, TextBlock } from '../api/client';
  import { kindName, levelOf, listMark, roleOf } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import { caretOffset } from './caret';
  import { openEditor, type RowEditor } from './editor';
  import { joinWithNext, joinWithPrevious, splitAt } from './rowActions';
  import PlainRuns from './PlainRuns.svelte';
  import TextTools from './TextTools.svelte';

  interface Props {
    proof: Proof;
    block: TextBlock;
    place: number;
    active: boolean;
    scale: number;
    step: (by: -1 | 1, caret: number | null) => Promise<boolean>;
  }
  let { proof, block, place, active, scale, step }: Props = $props();

  const USUAL = 14.5; // pixels of running text, at the least
  const PAUSE = 450; // milliseconds without a key after which what was typed is saved
  const SIZES = [13, 30] as const; // pixels

  let mount = $state<HTMLElement>();
  let editor = $state.raw<RowEditor | null>(null);
  let pending: Run[] | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const typing = $derived(active && proof.editing !== null && !proof.readOnly);
  const style = $derived(proof.opened?.styles.find((one) => one.name === block.style) ?? proof.opened?.styles[0]);
  const mark = $derived(listMark(proof.blocks, place));
  const look = $derived.by(() => {
    const body = proof.opened?.styles[0]?.size ?? 11;
    const size = (style?.size ?? body) * Math.max(scale, USUAL / body);
    return [
      `font-size:${Math.min(Math.max(size, SIZES[0]), SIZES[1])}px`,
      `font-family:var(--${style?.family === 'sans' ? 'sans' : style?.family === 'mono' ? 'mono' : 'serif'})`,
      `font-weight:${style?.bold ? 700 : 400}`,
      `font-style:${style?.italic ? 'italic' : 'normal'}`,
      // Emphasis differs from the style, whatever that is.
      `--emphasis-weight:${style?.bold ? 400 : 700}`,
      `--emphasis-style:${style?.italic ? 'normal' : 'italic'}`,
      style?.color ? `color:#${style.color}` : '',
      `text-align:${(block.align ?? style?.align ?? 'left').replace('justify', 'left')}`,
    ].join(';');
  });

  function flush() {
    clearTimeout(timer);
    if (pending) void proof.send({ op: 'edit_text', block: block.id, runs: pending });
    pending = null;
  }

  $effect(() => {
    // A new ``editing`` opens the editor afresh, with the text as it is then.
    const editing = proof.editing;
    if (!mount || !typing || !editing) return;
    const ahead = proof.typedAhead ?? '';
    proof.typedAhead = null;
    const opened = untrack(() =>
      openEditor(mount!, `Text of row ${place + 1}, ${kindName(block)}`, block.runs ?? [], editing.at, ahead, {
        changed: (runs) => {
          pending = runs;
          clearTimeout(timer);
          timer = setTimeout(flush, PAUSE);
        },
        split: (offset) => {
          flush();
          splitAt(proof, block, offset);
          return true;
        },
        joinBefore: () => {
          flush();
          return joinWithPrevious(proof, block);
        },
        joinAfter: () => {
          flush();
          return joinWithNext(proof, block, true);
        },
        leave: (direction) => {
          flush();
          if (direction === 0) proof.editing = null;
          else void step(direction, direction > 0 ? 0 : -1);
          return true;
        },
        undo: () => {
          flush();
          void proof.undo().then(reopen);
          return true;
        },
        redo: () => {
          flush();
          void proof.redo().then(reopen);
          return true;
        },
      }),
    );
    editor = opened;
    return () => {
      flush();
      opened.destroy();
      if (editor === opened) editor = null;
    };
  });
  onDestroy(flush);

  function reopen() {
    if (proof.selected === block.id && proof.place(block.id) >= 0) proof.editing = { at: -1 };
    else proof.editing = null;
  }

  function clicked(event: MouseEvent) {
    proof.selected = block.id;
    proof.queries.current = null;
    if (!proof.readOnly) proof.editing = { at: caretOffset(event.currentTarget as HTMLElement, event) };
  }
</script>

<div class="line" style={look} style:padding-left="{roleOf(block) === 'list_item' ? levelOf(block) * 1.5 : 0}em">
  {#if mark}<span class="mark" aria-hidden="true">{mark}</span>{/if}
  {#if typing}
    {#key proof.editing}<div class="text typing" bind:this={mount}></div>{/key}
  {:else}
    <!-- svelte-ignore a11y_click_events_have_key_events: Enter on the row opens it too -->
    <div class="text" role="presentation" onclick={clicked}><PlainRuns
        runs={block.runs ?? []}
        queries={proof.queries.byRow.get(block.id)}
        current={proof.queries.current}
        open={(query) => (proof.queries.current = query.id)}
      /></div>
  {/if}
</div>
{#if active && !proof.readOnly && !proof.queries.current}
  <TextTools {proof} {block} {place} {editor} {flush} />
{/if}

<style>
  .line {
    display: flex;
    gap: 0.55em;
    line-height: 1.45;
  }
  .mark {
    min-width: 1em;
    color: var(--ink-soft);
  }
  .text {
    flex: 1;
    min-width: 0;
    min-height: 1.45em;
    cursor: text;
    overflow-wrap: anywhere;
    tab-size: 12;
    white-space: pre-wrap;
  }
  .typing {
    outline: 0;
    background: linear-gradient(var(--verdigris-wash), var(--verdigris-wash)) bottom / 100% 2px no-repeat;
  }
  .text :global(strong) {
    font-weight: var(--emphasis-weight);
  }
  .text :global(em) {
    font-style: var(--emphasis-style);
  }
  .text :global(.note-mark) {
    padding: 0 2px;
    border-radius: 2px;
    background: var(--verdigris-wash);
    color: var(--verdigris);
  }
  .text :global(.link) {
    color: var(--verdigris);
    text-decoration: underline;
  }
</style>
