<script lang="ts">
  /** The text of a block: drawn plainly, and with the live editor while it is typed in. */
  import type { TextBlock } from '../api/client';
  import { ABOVE, BELOW, kindName, levelOf, roleOf } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import { caretOffset } from './caret';
  import type { RowEditor } from './editor';
  import EquationEditor from './EquationEditor.svelte';
  import LiveText from './LiveText.svelte';
  import { pointOf, textLook } from './looks';
  import { joinWithNext, joinWithPrevious, splitAt } from './rowActions';
  import PlainRuns from './PlainRuns.svelte';
  import Measure from './Measure.svelte';
  import { tabbed } from './tabStops';
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

  let live = $state<LiveText>();
  let editor = $state.raw<RowEditor | null>(null);
  let line = $state<HTMLElement>();

  const typing = $derived(active && proof.editing !== null && !proof.readOnly);
  const style = $derived(proof.opened?.styles.find((one) => one.id === block.style) ?? proof.opened?.styles[0]);
  const mark = $derived(roleOf(block) === 'list_item' && !block.excluded ? (proof.labels[block.id] ?? '') : '');
  const look = $derived(textLook(style, proof.opened?.styles[0]?.size ?? 11, scale, block.align));
  const sides = $derived(block.sides ?? 0);
  const language = $derived(block.language || proof.opened?.language || 'en');
  const flush = () => live?.flush();
  const stops = $derived(block.tabs ?? []);
  const hasTabs = $derived(stops.length > 0 || (block.content ?? []).some((item) => item.type === 'tab'));
  /** The style of a row whose indents are shown: marks of items and tab stops have places of their own. */
  const indented = $derived(style && !mark && !hasTabs && roleOf(block) !== 'list_item' && roleOf(block) !== 'code' ? style : undefined);
  const inPixels = (points: number) => points * pointOf(style, proof.opened?.styles[0]?.size ?? 11, scale);
  const shownFirst = $derived(inPixels(indented?.first ?? 0));
  const shownLeft = $derived(Math.max(inPixels(indented?.left ?? 0), -shownFirst, 0));

  const events = {
    split: (offset: number) => (splitAt(proof, block, offset), true),
    joinBefore: () => joinWithPrevious(proof, block),
    joinAfter: () => joinWithNext(proof, block, true),
    tab: () => false,
    equation: (at: number, until: number) => {
      proof.editing = null;
      proof.equation = { block: block.id, at, until };
      return true;
    },
    leave: (direction: -1 | 0 | 1) => {
      if (direction === 0) proof.editing = null;
      else void step(direction, direction > 0 ? 0 : -1);
      return true;
    },
  };

  function reopen() {
    if (proof.selected === block.id && proof.place(block.id) >= 0) proof.editing = { at: -1 };
    else proof.editing = null;
  }

  function opened(at: number) {
    proof.selected = block.id;
    proof.queries.current = null;
    if (!proof.readOnly) events.equation(at, at + 1);
  }

  function clicked(event: MouseEvent) {
    proof.selected = block.id;
    proof.queries.current = null;
    if (!proof.readOnly) proof.editing = { at: caretOffset(event.currentTarget as HTMLElement, event) };
  }
</script>

{#if active && (hasTabs || (proof.measured && indented)) && !proof.readOnly}
  <div style={look} style:padding-left="{mark && line ? line.offsetLeft : 0}px"><Measure {proof} {block} text={line} indented={proof.measured ? indented : undefined} {flush} /></div>
{/if}
<div class="line" class:above={sides & ABOVE} class:below={sides & BELOW} style={look} style:padding-left={indented ? `min(${shownLeft}px, 40%)` : `${roleOf(block) === 'list_item' ? levelOf(block) * 1.5 : 0}em`} style:--first={indented ? `${shownFirst}px` : '0'}>
  {#if mark}<span class="mark" aria-hidden="true">{mark}</span>{/if}
  {#if typing}
    {#key proof.editing}
      <LiveText bind:this={live} bind:editor bind:mount={line} {stops} {proof} {block} label="Text of row {place + 1}, {kindName(block)}" {language} {events} {reopen} />
    {/key}
  {:else}
    <!-- svelte-ignore a11y_click_events_have_key_events: Enter on the row opens it too -->
    <div class="text" role="presentation" bind:this={line} use:tabbed={stops} onclick={clicked}><PlainRuns
        content={block.content ?? []}
        queries={proof.queries.byRow.get(block.id)}
        current={proof.queries.current}
        open={(query) => (proof.queries.current = query.id)}
        openEquation={opened}
        {language}
      /></div>
  {/if}
</div>
{#if active && proof.equationInHand && !proof.readOnly}
  {#key proof.equation}
    <EquationEditor {proof} {block} at={proof.equationInHand.at} until={proof.equationInHand.until} {language} />
  {/key}
{:else if active && !proof.readOnly && !proof.queries.current}
  <TextTools {proof} {block} {place} {editor} {flush} />
{/if}

<style>
  .line {
    display: flex;
    gap: 0.55em;
    line-height: 1.45;
  }
  .above {
    border-top: 1px solid var(--ink-soft);
  }
  .below {
    border-bottom: 1px solid var(--ink-soft);
  }
  .mark {
    min-width: 1em;
    color: var(--ink-soft);
  }
  .text {
    text-indent: var(--first);
    flex: 1;
    min-width: 0;
    min-height: 1.45em;
    cursor: text;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
</style>
