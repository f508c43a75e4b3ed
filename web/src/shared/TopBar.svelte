<script lang="ts">
  import type { Snippet } from 'svelte';
  import { trayAddress } from '../state/route.svelte';

  let { children, actions }: { children?: Snippet; actions?: Snippet } = $props();
</script>

<header>
  <a class="mark" href={trayAddress} title="To the in-tray">Even Quill</a>
  <div class="facts">{@render children?.()}</div>
  <div class="actions">{@render actions?.()}</div>
</header>

<style>
  header {
    display: flex;
    gap: 18px;
    align-items: center;
    min-height: 52px;
    padding: 0 18px;
    border-bottom: 1px solid var(--paper-edge);
    background: var(--paper);
  }
  .mark {
    color: var(--verdigris);
    font-family: var(--serif);
    font-size: 22px;
    font-style: italic;
    font-weight: 700;
    text-decoration: none;
    white-space: nowrap;
  }
  .facts {
    flex: 1;
    min-width: 0;
    display: flex;
    gap: 14px;
    align-items: baseline;
  }
  .facts :global(h1) {
    overflow: hidden;
    margin: 0;
    font-family: var(--sans);
    font-size: 16px;
    font-weight: 650;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .actions {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .actions :global(.bx--btn) {
    min-width: 0;
    padding-inline: 13px;
  }
  @media (max-width: 680px) {
    header {
      flex-wrap: wrap;
      gap: 4px 8px;
      padding: 6px 12px;
    }
    .facts {
      order: 3;
      flex-basis: 100%;
    }
    /* The buttons stand beside the name and wrap with it. */
    .actions {
      display: contents;
    }
    .actions > :global(:first-child) {
      margin-left: auto;
    }
    .actions :global(.bx--btn) {
      min-width: 0;
      padding-inline: 7px;
    }
  }
</style>
