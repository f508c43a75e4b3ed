<script lang="ts">
  /** Runs drawn without an editor. Text is only ever set as text, whatever it contains. */
  import type { Run } from '../api/client';
  import { BOLD, ITALIC, STRIKE, SUB, SUPER, UNDERLINE } from '../shared/blocks';

  let { runs }: { runs: readonly Run[] } = $props();

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

{#each runs as run, i (i)}<span class:link={run.link} class:note-mark={run.note} style={look(run)} title={run.link || undefined}
    >{run.text}</span
  >{/each}
