<script lang="ts">
  /** What can be done with the text row in hand. Every key on a row has its button here. */
  import type { TextBlock } from '../api/client';
  import { ALIGNMENTS, isHandwriting, isOrdered, kindOf, KINDS, LEVELED, roleOf } from '../shared/blocks';
  import { languageName, languages } from '../shared/languages.svelte';
  import type { Proof } from '../state/proof.svelte';
  import type { RowEditor } from './editor';
  import HandwritingTools from './HandwritingTools.svelte';
  import { insertBelow, joinWithNext, readAsEquation, readRowAgain, restartNumbering, setAlign, setKind, setLevel, splitAt } from './rowActions';
  import RowTools from './RowTools.svelte';

  interface Props {
    proof: Proof;
    block: TextBlock;
    place: number;
    editor: RowEditor | null;
    flush: () => void;
  }
  let { proof, block, place, editor, flush }: Props = $props();

  let language = $state('');
  const kind = $derived(kindOf(block));
  const leveled = $derived(LEVELED.has(roleOf(block)));
  const align = $derived(block.align ?? proof.opened?.styles.find((one) => one.id === block.style)?.align ?? 'left');

  function choose(name: string) {
    const chosen = KINDS.find((one) => one.name === name);
    flush();
    if (chosen) setKind(proof, [block], chosen);
  }

  /** For what changes the rows: what was typed is saved first. */
  function after(action: () => unknown) {
    flush();
    action();
  }
</script>

<RowTools {proof} {block} {place} {flush}>
  <select aria-label="Kind" value={kind.name} onchange={(event) => choose(event.currentTarget.value)}>
    {#each KINDS as one (one.name)}<option>{one.name}</option>{/each}
  </select>
  {#if leveled}
    <button onclick={() => after(() => setLevel(proof, [block], -1))} title="One level up ([)">Less deep</button>
    <button onclick={() => after(() => setLevel(proof, [block], 1))} title="One level deeper (])">Deeper</button>
  {/if}
  {#if isOrdered(block)}
    <button onclick={() => after(() => restartNumbering(proof, block))}
      >{typeof block.numbering?.start === 'number' ? 'Run on from before' : 'Restart at 1'}</button
    >
  {/if}
  {#if editor}
    <button onmousedown={(event) => event.preventDefault()} onclick={() => editor.toggle('bold')} title="Bold (Ctrl B)"><b>Bold</b></button>
    <button onmousedown={(event) => event.preventDefault()} onclick={() => editor.toggle('italic')} title="Italic (Ctrl I)"
      ><i>Italic</i></button
    >
    {#if roleOf(block) === 'paragraph'}
      <button
        onmousedown={(event) => event.preventDefault()}
        onclick={() => editor.toggle('run_in')}
        title="The marked beginning of the paragraph is a heading (Ctrl H)">Run-in heading</button
      >
    {/if}
    <button onmousedown={(event) => event.preventDefault()} onclick={() => editor.equation()} title="The equation at the caret, or a new one (Ctrl M)"
      >Equation</button
    >
    <button onclick={() => after(() => splitAt(proof, block, editor.offset()))} title="Split at the caret (Enter)">Split here</button>
  {/if}
  <select aria-label="Alignment" value={align} onchange={(event) => after(() => setAlign(proof, block, event.currentTarget.value as typeof align))}>
    {#each ALIGNMENTS as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
  </select>
  <button onclick={() => after(() => joinWithNext(proof, block))} title="Join with the row after (J)">Join with next</button>
  <button onclick={() => after(() => insertBelow(proof, block))} title="New paragraph below (N)">New below</button>
  {#if isHandwriting(block)}<HandwritingTools {proof} {block} />{/if}
  {#if block.spots?.length}
    <label
      >Read again in <select aria-label="Language to read this row again in" bind:value={language}>
        <option value="">the language found</option>
        {#each languages.codes as code (code)}<option value={code}>{languageName(code)}</option>{/each}
      </select></label
    >
    <button onclick={() => after(() => readRowAgain(proof, block, language ? [language] : []))}>Read again</button>
    <button onclick={() => after(() => readAsEquation(proof, block))} title="What is there on the page, as an equation (Shift F)">Read as equation</button>
  {/if}
</RowTools>
