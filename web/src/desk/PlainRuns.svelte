<script lang="ts">
  /** Runs drawn without an editor. Text is only ever set as text, whatever it contains. */
  import type { Run, Standing } from '../api/client';
  import { BOLD, ITALIC, RUN_IN, STRIKE, SUB, SUPER, UNDERLINE } from '../shared/blocks';

  interface Props {
    runs: readonly Run[];
    /** Queries on the text, marked where they are. */
    queries?: readonly Standing[];
    current?: string | null;
    open?: (query: Standing) => void;
  }
  let { runs, queries = [], current = null, open = () => undefined }: Props = $props();

  interface Piece {
    run: Run;
    text: string;
    query?: Standing;
  }

  /** The runs, cut where queries begin and end. */
  const pieces = $derived.by(() => {
    const marked = queries.filter((one) => (one.query.end ?? 0) > (one.query.start ?? 0));
    const out: Piece[] = [];
    let at = 0;
    for (const run of runs) {
      const end = at + run.text.length;
      const cuts = new Set([at, end]);
      for (const { query } of marked)
        for (const place of [query.start ?? 0, query.end ?? 0]) if (place > at && place < end) cuts.add(place);
      const places = [...cuts].sort((a, b) => a - b);
      places.slice(0, -1).forEach((start, i) => {
        const query = marked.find((one) => (one.query.start ?? 0) <= start && start < (one.query.end ?? 0));
        out.push({ run, text: run.text.slice(start - at, places[i + 1]! - at), query });
      });
      if (!run.text) out.push({ run, text: '' });
      at = end;
    }
    return out;
  });

  function look(run: Run): string {
    const marks = run.marks ?? 0;
    const lines = [marks & UNDERLINE || run.link ? 'underline' : '', marks & STRIKE ? 'line-through' : ''].filter(Boolean);
    return [
      marks & BOLD ? 'font-weight:var(--emphasis-weight)' : '',
      marks & ITALIC ? 'font-style:var(--emphasis-style)' : '',
      lines.length ? `text-decoration:${lines.join(' ')}` : '',
      marks & SUPER ? 'vertical-align:super;font-size:0.72em;line-height:1' : '',
      marks & SUB ? 'vertical-align:sub;font-size:0.72em;line-height:1' : '',
      run.color ? `color:#${run.color}` : '',
    ]
      .filter(Boolean)
      .join(';');
  }
</script>

{#each pieces as { run, text, query }, i (i)}{#if query}<button
      class="doubt"
      class:kept={query.left}
      class:current={query.id === current}
      style={look(run)}
      tabindex="-1"
      title="A query: {query.query.reason}"
      onclick={(event) => {
        event.stopPropagation();
        open(query);
      }}>{text}</button
    >{:else}<span class:link={run.link} class:note-mark={run.note} class:run-in={(run.marks ?? 0) & RUN_IN} style={look(run)} title={run.link || undefined}>{text}</span>{/if}{/each}

<style>
  .note-mark {
    padding: 0 2px;
    border-radius: 2px;
    background: var(--verdigris-wash);
    color: var(--verdigris);
  }
  .link {
    color: var(--verdigris);
    text-decoration: underline;
  }
  .run-in {
    border-bottom: 1px dashed var(--verdigris);
  }
  .doubt {
    display: inline;
    padding: 0;
    border: 0;
    border-bottom: 2px dotted var(--saffron);
    background: var(--saffron-wash);
    color: inherit;
    font: inherit;
    white-space: inherit;
    cursor: pointer;
  }
  .kept {
    background: none;
  }
  .current {
    border-bottom-style: solid;
    background: var(--saffron);
    color: var(--sheet);
  }
</style>
