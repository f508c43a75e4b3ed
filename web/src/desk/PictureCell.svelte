<script lang="ts">
  /** A picture: shown at the scale of the strip; its size, alignment, alternative text, or another picture in its place. */
  import { api, pictureAddress, type Align, type PictureBlock } from '../api/client';
  import { ALIGNMENTS, isHandwriting } from '../shared/blocks';
  import { notices } from '../state/notices.svelte';
  import type { Proof } from '../state/proof.svelte';
  import HandwritingTools from './HandwritingTools.svelte';
  import { addCaption, insertBelow, readAsEquation, setAlign } from './rowActions';
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
  const WHOLE: Box = [0, 0, 1, 1];
  type Box = [number, number, number, number];

  /** The part of the picture that is to be left, in shares of its sides, while it is cropped. */
  let crop = $state.raw<Box | null>(null);
  let from: [number, number] | null = null;

  /** A part of the picture, turned, in its place: as large on the page as that part was. */
  async function change(turns: number, box: Box) {
    crop = null;
    try {
      const { picture, media, pixel_width, pixel_height } = await api.changePicture(block.picture, turns, box);
      const width = turns % 2 ? block.height * (box[3] - box[1]) : block.width * (box[2] - box[0]);
      await proof.send({ op: 'replace_picture', block: block.id, picture, media, pixel_width, pixel_height, width });
    } catch (error) {
      notices.wrong(error);
    }
  }

  function shareAt(event: PointerEvent): [number, number] {
    const { left, top, width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const share = (at: number, size: number) => Math.min(Math.max(at / size, 0), 1);
    return [share(event.clientX - left, width), share(event.clientY - top, height)];
  }

  function begin(event: PointerEvent) {
    if (!crop || event.button !== 0) return;
    event.preventDefault();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    from = shareAt(event);
  }

  function draw(event: PointerEvent) {
    if (!from) return;
    const to = shareAt(event);
    crop = [Math.min(from[0], to[0]), Math.min(from[1], to[1]), Math.max(from[0], to[0]), Math.max(from[1], to[1])];
  }

  function setSide(n: number, text: string) {
    const share = Number(text.replace(',', '.')) / 100;
    if (crop && Number.isFinite(share)) crop = crop.map((side, k) => (k === n ? Math.min(Math.max(n < 2 ? share : 1 - share, 0), 1) : side)) as Box;
  }

  const SIDES = ['left', 'top', 'right', 'bottom'] as const;
  const offSide = (box: Box, n: number) => Math.round((n < 2 ? box[n]! : 1 - box[n]!) * 1000) / 10;
</script>

<div class="picture" style:text-align={align === 'justify' ? 'left' : align} role="presentation" onclick={select}>
  <!-- svelte-ignore a11y_no_static_element_interactions: with the keys, the sides are typed -->
  <span class="frame" class:cropping={crop} onpointerdown={begin} onpointermove={draw} onpointerup={() => (from = null)} onpointercancel={() => (from = null)}>
    <img src={pictureAddress(block.picture)} alt={block.alt || 'Picture without alternative text'} style:width="{shown}px" draggable="false" />
    {#if crop}
      <span class="kept" style:left="{crop[0] * 100}%" style:top="{crop[1] * 100}%" style:width="{(crop[2] - crop[0]) * 100}%" style:height="{(crop[3] - crop[1]) * 100}%"></span>
    {/if}
  </span>
</div>
{#if active && !proof.readOnly && crop}
  <div class="small-tools" role="toolbar" aria-label="What is left of the picture">
    <span>Draw what is to be left, or take off:</span>
    {#each SIDES as side, n (side)}
      <label>{side} <input type="text" inputmode="decimal" size="4" value={offSide(crop, n)} onchange={(event) => setSide(n, event.currentTarget.value)} /> %</label>
    {/each}
    <button disabled={crop.join() === WHOLE.join()} onclick={() => crop && change(0, crop)}>Crop it</button>
    <button onclick={() => (crop = null)}>Leave it</button>
  </div>
{:else if active && !proof.readOnly}
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
    <label title="The text below goes around the picture, at the side that it leaves free"
      ><input
        type="checkbox"
        checked={block.around ?? false}
        onchange={(event) => void proof.send({ op: 'set_around', block: block.id, around: event.currentTarget.checked })}
      /> Text around</label
    >
    {#if isHandwriting(block)}<HandwritingTools {proof} {block} />{/if}
    <button onclick={() => change(1, WHOLE)} title="By a quarter to the right">Turn</button>
    <button onclick={() => (crop = WHOLE)} title="Leave a part of it">Crop …</button>
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
    <button onclick={() => addCaption(proof, block)} title="A caption with the next number">New caption</button>
    <button onclick={() => insertBelow(proof, block)} title="New paragraph below (N)">New below</button>
  </RowTools>
{/if}

<style>
  img {
    max-width: 100%;
    vertical-align: top;
  }
  .frame {
    position: relative;
    display: inline-block;
    max-width: 100%;
    overflow: hidden;
  }
  .cropping {
    cursor: crosshair;
    touch-action: none;
  }
  .kept {
    position: absolute;
    outline: 2px solid var(--verdigris);
    box-shadow: 0 0 0 2000px rgb(255 255 255 / 65%);
    pointer-events: none;
  }
  .small-tools {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    margin-top: 8px;
    font-size: 13px;
  }
  .alt {
    flex: 1 1 260px;
  }
  .alt input {
    flex: 1;
  }
</style>
