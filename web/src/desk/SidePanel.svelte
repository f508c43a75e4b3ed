<script lang="ts" module>
  export const PANELS = ['Outline', 'Equations', 'Find', 'Sweep', 'Styles'] as const;
  export type Panel = (typeof PANELS)[number];
</script>

<script lang="ts">
  /** What stands between the ladder and the rows: one of several lists of places in the document, what is found, what can be swept out, the styles. */
  import type { Snippet } from 'svelte';

  let { panel = $bindable(), children }: { panel: Panel | null; children: Snippet } = $props();
</script>

<aside aria-label={panel}>
  <header>
    <div role="group" aria-label="What is listed">
      {#each PANELS as one (one)}<button aria-pressed={panel === one} onclick={() => (panel = one)}>{one}</button>{/each}
    </div>
    <button class="close" onclick={() => (panel = null)} aria-label="Close the {panel?.toLowerCase()}">✕</button>
  </header>
  {@render children()}
</aside>

<style>
  aside {
    grid-area: panel;
    display: flex;
    flex-direction: column;
    min-height: 0;
    border-right: 1px solid var(--paper-edge);
    background: var(--sheet);
  }
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
    padding: 6px 4px 0 8px;
    border-bottom: 1px solid var(--paper-edge);
  }
  button {
    min-height: 32px;
    padding: 4px 5px;
    border: 0;
    border-bottom: 3px solid transparent;
    background: none;
    color: var(--ink-soft);
    font: inherit;
    font-size: 14px;
    cursor: pointer;
  }
  [aria-pressed='true'] {
    border-bottom-color: var(--verdigris);
    color: var(--ink);
    font-weight: 650;
  }
  .close {
    width: 28px;
  }
</style>
