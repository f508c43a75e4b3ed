<script lang="ts">
  /** A picture: shown at the scale of the strip; its size, alignment, alternative text, or another picture in its place. */
  import { api, pictureAddress, type Align, type PictureBlock } from '../api/client';
  import { ALIGNMENTS, isHandwriting } from '../shared/blocks';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import HandwritingTools from './HandwritingTools.svelte';
  import { insertBelow, readAsEquation, setAlign } from './rowActions';
  import RowTools from './RowTools.svelte';

  interface Props {
    proof: Proof;
    block: PictureBlock;
    active: boolean;
    scale: number;
    stripWidth: number;
    select: () => void;
  }
  let { proof, block, active, scale, stripWidth, select }: Props = $props();

  const MILLIMETRE = 72 / 25.4;
  let picker = $state<HTMLInputElement>();

  const shown = $derived(Math.min(block.width * scale, stripWidth));
  const align = $derived(block.align ?? 'left');

  function resize(text: string) {
    const width = Number(text.replace(',', '.')) * MILLIMETRE;
    if (Number.isFinite(width) && width > 0)
      void proof.send({ op: 'resize', block: block.id, width, height: (width * block.height) / block.width });
  }

  async function replace() {
    const file = picker?.files?.[0];
    if (picker) picker.value = '';
    if (!file) return;
    try {
      const { picture, media, pixel_width, pixel_height } = await api.addPicture(file);
      await proof.send({ op: 'replace_picture', block: block.id, picture, media, pixel_width, pixel_height });
    } catch (error) {
      notices.wrong(error);
    }
  }
</script>

<div class="picture" style:text-align={align === 'justify' ? 'left' : align} role="presentation" onclick={select}>
  <img src={pictureAddress(block.picture)} alt={block.alt || 'Picture without alternative text'} style:width="{shown}px" />
</div>
{#if active && !proof.readOnly}
  <RowTools {proof} {block} place={proof.place(block.id)}>
    <label
      >Width, mm <input
        type="text"
        inputmode="decimal"
        size="5"
        value={(block.width / MILLIMETRE).toFixed(1)}
        onchange={(event) => resize(event.currentTarget.value)}
      /></label
    >
    <select aria-label="Alignment" value={align} onchange={(event) => setAlign(proof, block, event.currentTarget.value as Align)}>
      {#each ALIGNMENTS.filter((one) => one.value !== 'justify') as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
    </select>
    {#if isHandwriting(block)}<HandwritingTools {proof} {block} />{/if}
    <button onclick={() => picker?.click()}>Replace …</button>
    <input
      bind:this={picker}
      class="hidden-but-read"
      type="file"
      accept="image/*"
      tabindex="-1"
      aria-label="Picture to put in its place"
      onchange={replace}
    />
    <label class="alt"
      >Alternative text <input
        type="text"
        value={block.alt ?? ''}
        onchange={(event) => void proof.send({ op: 'describe', block: block.id, alt: event.currentTarget.value })}
      /></label
    >
    {#if block.spots?.length}
      <button onclick={() => void readAsEquation(proof, block)} title="What is there on the page, as an equation (Shift F)">Read as equation</button>
    {/if}
    <button onclick={() => insertBelow(proof, block)} title="New paragraph below (N)">New below</button>
  </RowTools>
{/if}

<style>
  img {
    max-width: 100%;
  }
  .alt {
    flex: 1 1 260px;
  }
  .alt input {
    flex: 1;
  }
</style>
