<script lang="ts">
  import { Modal } from 'carbon-components-svelte';
  import { KINDS } from '../shared/blocks';

  let { open = $bindable() }: { open: boolean } = $props();

  const ON_ROWS: readonly [string, string][] = [
    ['↑ ↓', 'row before, row after'],
    ['Enter', 'type in the row'],
    ...KINDS.map((kind): [string, string] => [kind.key.toUpperCase(), `make it: ${kind.name.toLowerCase()}`]),
    ['] [', 'one level deeper, one level up'],
    ['Shift ↑  Shift ↓', 'mark more rows; what is done then is done to all'],
    ['Alt ↑  Alt ↓', 'move the row up, down'],
    ['J', 'join with the row after, or the marked rows'],
    ['Y', 'make a table of rows with tabs, or rows of a table'],
    ['N', 'new paragraph below'],
    ['F', 'the first equation of the row: its TeX, and how it is said'],
    ['Shift F', 'read the place of the row as an equation, and open it'],
    ['X', 'set aside, or bring back'],
    ['Ctrl Z  Ctrl Y', 'undo, redo'],
    ['E', 'rows, or the whole sheet'],
    ['Shift E', 'the outcome: pages as they will come out'],
    ['Q', 'next query from here on'],
    ['I', 'list of queries'],
    ['U', 'outline: headings to jump and reorder by'],
    ['Shift U', 'list of equations to walk through'],
    ['S', 'styles of the document'],
    ['Ctrl C  Ctrl V', 'copy the rows in hand, put what was copied behind them: here or in another document'],
    ['Ctrl F', 'find and replace, in all of the document'],
    ['G', 'how the page is read; read it again'],
    ['V', 'strips as the page came, or as it was cleaned'],
    ['?', 'this list'],
  ];
  const ON_A_QUERY: readonly [string, string][] = [
    ['1  …  9', 'that answer'],
    ['0', 'keep it as it is'],
    ['T', 'type the answer; Enter sends it'],
    ['N  B', 'next, back'],
    ['L', 'leave it for later'],
    ['A', 'all words that look alike; the same for equal equations'],
    ['K', 'all queries of this kind'],
    ['W', 'show more of the page'],
    ['Esc', 'back to the rows'],
  ];
  const ON_THE_SHEET: readonly [string, string][] = [
    ['↑ ↓', 'region before, region after; with Shift one more'],
    ['D', 'draw a region'],
    ['S', 'split a region where you click'],
    ['M', 'merge the regions in hand'],
    ['R', 'read the region again'],
    ['Delete', 'take the region out'],
    ['Alt ↑  Alt ↓', 'earlier, later in the order'],
    ['Alt →  Alt ←', 'wider, taller; with Shift narrower, lower'],
    ['+  -  F', 'larger, smaller, whole page'],
    ['PgUp  PgDn', 'page before, page after'],
  ];
  const ON_THE_OUTCOME: readonly [string, string][] = [
    ['PgUp  PgDn', 'page before, page after'],
    ['1  2  3', 'look at that way to make it fit'],
    ['K  Esc', 'keep it, or show the pages as they were'],
    ['N  B', 'next, back: places that do not fit'],
    ['P  T', 'its page, its row'],
    ['0', 'leave it so'],
  ];
  const WHILE_TYPING: readonly [string, string][] = [
    ['Enter', 'split the paragraph here'],
    ['Shift Enter', 'new line in the same paragraph'],
    ['Backspace', 'at the start: join with the row before'],
    ['Delete', 'at the end: join with the row after'],
    ['Ctrl B  Ctrl I  Ctrl U', 'bold, italic, underlined'],
    ['Ctrl H', 'run-in heading: what is marked begins the paragraph as a title'],
    ['Ctrl M', 'the equation before the caret, or a new one'],
    ['↑ ↓', 'beyond the first or last line: row before, row after'],
    ['Tab', 'in a table: next cell; with Shift the one before'],
    ['Alt Enter', 'to the tools of the row; Tab walks through them'],
    ['Alt Shift ↑ ↓ ← →', 'in a table: mark cells from the one in hand on'],
    ['Esc', 'stop typing'],
  ];
</script>

<Modal passiveModal hasScrollingContent bind:open modalHeading="Keys" size="sm">
  {#each [['On a query', ON_A_QUERY], ['On a row', ON_ROWS], ['On the sheet', ON_THE_SHEET], ['On the outcome', ON_THE_OUTCOME], ['While typing', WHILE_TYPING]] as const as [title, keys] (title)}
    <h3>{title}</h3>
    <dl>
      {#each keys as [key, what] (key + what)}
        <dt>
          {#each key.split(/ {2}/) as one (one)}<kbd>{one}</kbd>{' '}{/each}
        </dt>
        <dd>{what}</dd>
      {/each}
    </dl>
  {/each}
</Modal>

<style>
  h3 {
    margin: 0.6em 0 0.4em;
    font-size: 15px;
    font-weight: 650;
  }
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 5px 16px;
    margin: 0;
  }
  dd {
    margin: 0;
  }
</style>
