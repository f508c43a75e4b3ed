<script lang="ts">
  /** The parts of the source that a block came from, cut out of their pages and set in as they stood there. */
  import { stripAddress, type Block } from '../api/client';
  import type { Proof } from '../state/proof.svelte';

  let { proof, block, scale, stripWidth }: { proof: Proof; block: Block; scale: number; stripWidth: number } = $props();

  const MARGIN = 4; // points at either side of what was read
  const ABOVE = 1.5; // points above and below, so that no neighbouring line shows
  const MOST_SPOTS = 8;

  const strips = $derived(
    (block.spots ?? []).slice(0, MOST_SPOTS).map((spot) => {
      const [number, area] = spot as unknown as [number, [number, number, number, number]];
      const page = proof.pages.get(number);
      const box = [
        Math.max(area[0] - MARGIN, 0),
        Math.max(area[1] - ABOVE, 0),
        Math.min(area[2] + MARGIN, page?.width ?? Infinity),
        Math.min(area[3] + ABOVE, page?.height ?? Infinity),
      ] as const;
      const width = (box[2] - box[0]) * scale;
      const shrink = Math.min(1, stripWidth / width);
      const indent = Math.max((box[0] - (page?.text_left ?? box[0]) + MARGIN) * scale, 0);
      return {
        number,
        address: stripAddress(proof.id, number, box, Math.min(scale * shrink * devicePixelRatio * 1.25, 8), proof.view, page?.reading ?? 0),
        width: width * shrink,
        height: (box[3] - box[1]) * scale * shrink,
        indent: Math.min(indent, stripWidth - width * shrink),
      };
    }),
  );
</script>

{#each strips as strip, i (i)}
  <img
    src={strip.address}
    alt="Source, page {strip.number}"
    loading="lazy"
    draggable="false"
    style:width="{strip.width}px"
    style:height="{strip.height}px"
    style:margin-left="{strip.indent}px"
  />
{:else}
  <span class="quiet">not from the source</span>
{/each}

<style>
  img {
    display: block;
    max-width: 100%;
    background: #fff;
    mix-blend-mode: multiply;
  }
  img + img {
    margin-top: 4px;
    border-top: 1px dashed var(--ink-soft);
  }
  span {
    font-size: 13px;
    font-style: italic;
  }
</style>
