<script lang="ts">
  /** A list whose entries can be put into another order. */
  interface Entry {
    key: string;
    name: string;
    note: string;
  }
  let { entries = $bindable(), label }: { entries: Entry[]; label: string } = $props();

  function move(from: number, by: -1 | 1) {
    const next = entries.slice();
    next.splice(from + by, 0, ...next.splice(from, 1));
    entries = next;
  }
</script>

<ol aria-label={label}>
  {#each entries as entry, n (entry.key)}
    <li>
      <span class="name">{entry.name}</span>
      <span class="quiet">{entry.note}</span>
      <button disabled={n === 0} onclick={() => move(n, -1)} aria-label="{entry.name}: up">Up</button>
      <button disabled={n === entries.length - 1} onclick={() => move(n, 1)} aria-label="{entry.name}: down">Down</button>
    </li>
  {/each}
</ol>

<style>
  ol {
    display: grid;
    gap: 4px;
    margin: 0 0 14px;
    padding: 0 0 0 24px;
    list-style: decimal;
  }
  li > :global(*) {
    vertical-align: middle;
  }
  .name {
    display: inline-block;
    max-width: 230px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  button {
    margin-left: 6px;
    padding: 1px 8px;
    border: 1px solid var(--paper-edge);
    border-radius: 3px;
    background: var(--paper);
    color: var(--ink);
    font: inherit;
    font-size: 13px;
    cursor: pointer;
  }
  button:disabled {
    color: #857f72;
    cursor: default;
  }
</style>
