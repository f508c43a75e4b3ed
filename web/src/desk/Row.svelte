<script lang="ts">
  /** One row: the strip of the source, the gutter, the block. */
  import type { Block } from '../api/client';
  import { isTable, isText, kindName, signOf, readable, sureness } from '../shared/blocks';
  import type { Proof } from '../state/proof.svelte';
  import PictureCell from './PictureCell.svelte';
  import { putBefore, setAside } from './rowActions';
  import Strips from './Strips.svelte';
  import TableView from './TableView.svelte';
  import TextCell from './TextCell.svelte';

  interface Props {
    proof: Proof;
    block: Block;
    place: number;
    stripWidth: number;
    step: (by: -1 | 1, caret: number | null) => Promise<boolean>;
  }
  let { proof, block, place, stripWidth, step }: Props = $props();

  const sure = $derived(sureness(block));
  const active = $derived(proof.selected === block.id);

  const READABLE = 13; // pixels of the source's text in documents with columns, where the row has room for it

  /** Pixels for each point, so that a full line of the source just fills its half, and that of a narrow column can be read. */
  const scale = $derived.by(() => {
    const number = (block.spots?.[0]?.[0] as number | undefined) ?? 1;
    const page = proof.pages.get(number);
    const body = proof.opened?.styles[0]?.size ?? 11;
    const text = page ? Math.max(page.text_right - page.text_left, page.width * 0.3) : 460;
    if (!proof.opened?.columns) return Math.min(stripWidth / (text + 8), 18 / body);
    const own = Math.max(1, ...(block.spots ?? []).map((spot) => (spot[1] as unknown as number[])[2]! - (spot[1] as unknown as number[])[0]!));
    const fitting = Math.max(stripWidth / (text + 8), Math.min(READABLE / body, stripWidth / (own + 8)));
    return Math.min(fitting, 18 / body);
  });

  const marked = $derived(proof.marked.has(block.id));
  let target = $state(false);

  function select(event?: MouseEvent) {
    if (event?.shiftKey && proof.selected) return proof.markTo(block.id);
    if (event && (event.ctrlKey || event.metaKey)) return proof.toggleMark(block.id);
    proof.unmark();
    if (proof.selected !== block.id) {
      proof.selected = block.id;
      proof.editing = null;
      proof.equation = null;
    }
  }
</script>

<div
  class="row"
  class:active
  class:marked
  class:target
  class:aside={block.excluded}
  role="presentation"
  ondragover={(event) => {
    if (!proof.dragging) return;
    event.preventDefault();
    target = true;
  }}
  ondragleave={() => (target = false)}
  ondrop={(event) => {
    event.preventDefault();
    target = false;
    if (proof.dragging) putBefore(proof, proof.inHand, block);
  }}
>
  <div class="source" role="presentation" onclick={select}><Strips {proof} {block} {scale} {stripWidth} take={active ? proof.takeFromPage : null} /></div>
  <button
    class="gutter"
    tabindex="-1"
    draggable={!proof.readOnly}
    ondragstart={(event) => {
      if (!marked) select();
      event.dataTransfer?.setData('text/plain', kindName(block));
      proof.dragging = true;
    }}
    ondragend={() => (proof.dragging = false)}
    aria-pressed={active || marked}
    aria-label="Row {place + 1}: {kindName(block)}{block.excluded ? ', set aside' : ''}{sure === null ? '' : `, read with ${sure} %`}. Select"
    onclick={select}
    ><span>{signOf(block)}</span>{#if sure !== null}<small>{sure}</small>{/if}</button
  >
  <div class="proof" role="presentation" onclick={select}>
    {#if block.excluded}
      <p class="put-away">
        <span>Set aside: {isText(block) ? readable(block.content).slice(0, 120) || 'an empty paragraph' : kindName(block).toLowerCase()}</span>
        <button disabled={proof.readOnly} onclick={() => setAside(proof, [block])}>Bring back</button>
      </p>
    {:else if isText(block)}
      <TextCell {proof} {block} {place} {active} {scale} {step} />
    {:else if isTable(block)}
      <TableView {proof} {block} {place} {active} {scale} {step} />
    {:else}
      <PictureCell {proof} {block} {active} {scale} {stripWidth} {select} />
    {/if}
  </div>
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 46px minmax(0, 1fr);
    border-bottom: 1px solid var(--paper-edge);
  }
  .source {
    padding: 12px 14px;
    overflow: hidden;
  }
  .gutter {
    display: flex;
    flex-direction: column;
    gap: 0;
    align-items: center;
    padding: 10px 0 6px;
    border: 0;
    border-inline: 1px solid var(--paper-edge);
    background: var(--paper);
    color: var(--ink-soft);
    font-family: var(--serif);
    font-size: 15px;
    font-weight: 650;
    cursor: pointer;
  }
  small {
    font-family: var(--sans);
    font-size: 11px;
    font-weight: 400;
    line-height: 1.2;
  }
  .proof {
    min-width: 0;
    padding: 9px 18px 10px;
  }
  .active .gutter {
    background: var(--verdigris);
    color: var(--sheet);
  }
  .active .proof {
    box-shadow: inset 3px 0 var(--verdigris);
  }
  .active {
    border-bottom-color: var(--verdigris);
  }
  .marked .gutter {
    background: var(--verdigris);
    color: var(--sheet);
  }
  .marked .proof {
    background: var(--verdigris-wash);
  }
  .target {
    box-shadow: inset 0 3px var(--verdigris);
  }
  .aside .source {
    max-height: 44px;
    opacity: 0.55;
  }
  .put-away {
    display: flex;
    gap: 12px;
    align-items: center;
    justify-content: space-between;
    margin: 0;
    color: var(--ink-soft);
    font-style: italic;
  }
  .put-away span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .put-away button {
    border: 1px solid var(--verdigris);
    border-radius: 3px;
    padding: 3px 10px;
    background: none;
    color: var(--verdigris);
    font: inherit;
    font-style: normal;
    white-space: nowrap;
    cursor: pointer;
  }
  @media (max-width: 700px) {
    .row {
      grid-template-columns: 40px minmax(0, 1fr);
    }
    .source {
      grid-column: 1 / -1;
      background: var(--paper-deep);
    }
    .gutter {
      border-left: 0;
    }
    .proof {
      padding: 8px 12px;
    }
  }
</style>
