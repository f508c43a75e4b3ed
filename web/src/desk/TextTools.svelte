<script lang="ts">
  /** What can be done with the text row in hand. Every key on a row has its button here. */
  import type { TextBlock } from '../api/client';
  import { ABOVE, ALIGNMENTS, BELOW, isHandwriting, isOrdered, kindOf, KINDS, LEVELED, roleOf } from '../shared/blocks';
  import { languageName, languages } from '../shared/languages.svelte';
  import type { Proof } from '../state/proof.svelte';
  import ActionMenu from '../shared/ActionMenu.svelte';
  import type { RowEditor, TextMark } from './editor';
  import HandwritingTools from './HandwritingTools.svelte';
  import { drawColumns, insertBelow, joinWithNext, moveRows, readAsEquation, readRowAgain, restartNumbering, setAlign, setKind, setLevel, setSides, splitAt } from './rowActions';
  import RowTools from './RowTools.svelte';

  interface Props {
    proof: Proof;
    block: TextBlock;
    place: number;
    editor: RowEditor | null;
    flush: () => void;
  }
  let { proof, block, place, editor, flush }: Props = $props();

  const MOST_FACES = 6; // typefaces in the list
  const SIDES = [
    { bit: ABOVE, name: 'above' },
    { bit: BELOW, name: 'below' },
  ];

  const kind = $derived(kindOf(block));
  const leveled = $derived(LEVELED.has(roleOf(block)));
  const style = $derived(proof.opened?.styles.find((one) => one.id === block.style));
  const sides = $derived(block.sides ?? 0);
  const align = $derived(block.align ?? style?.align ?? 'left');

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

  const marked = (mark: TextMark, name: string) => ({ name, disabled: !editor, act: () => editor?.toggle(mark) });
  const given = (what: 'color' | 'ground' | 'font' | 'size', value: string | number | null, name: string) => ({ name, disabled: !editor, act: () => editor?.give(what, value) });

  const STEP = 1.15; // from one size to the next
  const resized = (factor: number, name: string) => ({
    name,
    disabled: !editor,
    act: () => editor?.give('size', Math.round(2 * factor * (editor.size() ?? style?.size ?? 11)) / 2),
  });
  const faces = $derived([...new Set((proof.opened?.styles ?? []).map((one) => one.font ?? '').filter(Boolean))].slice(0, MOST_FACES));

  const looks = $derived([
    [
      marked('underline', 'Underlined'),
      marked('strike', 'Struck out'),
      marked('super', 'Raised'),
      marked('sub', 'Lowered'),
      marked('small_capitals', 'Small capitals'),
      ...(roleOf(block) === 'paragraph' ? [marked('run_in', 'Run-in heading')] : []),
    ],
    [{ name: proof.measured ? 'Hide the measure' : 'Measure with indents', act: () => (proof.measured = !proof.measured) }],
    SIDES.map((one) => ({ name: `${sides & one.bit ? 'No line' : 'Line'} ${one.name}`, act: () => after(() => setSides(proof, block, sides ^ one.bit)) })),
    ALIGNMENTS.map((one) => ({ name: `Align: ${one.name.toLowerCase()}`, disabled: one.value === align, act: () => after(() => setAlign(proof, block, one.value)) })),
  ]);

  const letters = $derived([
    [resized(STEP, 'Larger'), resized(1 / STEP, 'Smaller'), given('size', null, 'Size of the style')],
    [...faces.map((face) => given('font', face, `Typeface: ${face}`)), given('font', null, 'Typeface of the style')],
    [given('color', 'b3261e', 'Red'), given('color', '1d4f91', 'Blue'), given('color', '2e6b34', 'Green'), given('color', null, 'No colour')],
    [given('ground', 'ffe9a8', 'On yellow'), given('ground', 'd5ecd2', 'On green'), given('ground', 'd6e4f5', 'On blue'), given('ground', null, 'On no colour')],
  ]);

  const acts = $derived([
    [
      { name: 'Split at the caret', disabled: !editor, act: () => editor && after(() => splitAt(proof, block, editor.offset())) },
      { name: 'Join with the next', act: () => after(() => joinWithNext(proof, block)) },
      { name: 'New paragraph below', act: () => after(() => insertBelow(proof, block)) },
      { name: 'Columns by lines on the strip', disabled: !block.spots?.length, act: () => after(() => drawColumns(proof, [block])) },
      { name: 'Tab at the caret', disabled: !editor, act: () => editor?.tab() },
      { name: 'Equation at the caret', disabled: !editor, act: () => editor?.equation() },
    ],
    [
      { name: 'Less deep', disabled: !leveled, act: () => after(() => setLevel(proof, [block], -1)) },
      { name: 'Deeper', disabled: !leveled, act: () => after(() => setLevel(proof, [block], 1)) },
      {
        name: typeof block.numbering?.start === 'number' ? 'Number on from before' : 'Number from 1 on',
        disabled: !isOrdered(block),
        act: () => after(() => restartNumbering(proof, block)),
      },
    ],
    [
      { name: 'Move up', disabled: place === 0, act: () => after(() => moveRows(proof, [block], -1)) },
      { name: 'Move down', disabled: place === proof.total - 1, act: () => after(() => moveRows(proof, [block], 1)) },
    ],
  ]);

  const readings = $derived([
    [
      { name: 'Read again', disabled: !block.spots?.length, act: () => after(() => readRowAgain(proof, block, [])) },
      { name: 'Read as an equation', disabled: !block.spots?.length, act: () => after(() => readAsEquation(proof, block)) },
    ],
    languages.codes.map((code) => ({
      name: `Read again in ${languageName(code)}`,
      disabled: !block.spots?.length,
      act: () => after(() => readRowAgain(proof, block, [code])),
    })),
  ]);
</script>

<RowTools {proof} {block} {place} {flush} moves={false}>
  <select class="kind" aria-label="Kind" value={kind.name} onchange={(event) => choose(event.currentTarget.value)}>
    {#each KINDS as one (one.name)}<option>{one.name}</option>{/each}
  </select>
  <button disabled={!editor} onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('bold')} title="Bold (Ctrl B)"><b>Bold</b></button>
  <button disabled={!editor} onmousedown={(event) => event.preventDefault()} onclick={() => editor?.toggle('italic')} title="Italic (Ctrl I)"><i>Italic</i></button>
  <ActionMenu label="Look" groups={looks} />
  <ActionMenu label="Letters" groups={letters} />
  <ActionMenu label="Row" groups={acts} />
  <ActionMenu label="Read" groups={readings} />
  {#if isHandwriting(block)}<HandwritingTools {proof} {block} />{/if}
</RowTools>

<style>
  .kind {
    max-width: 106px; /* so that all tools stand in one line beside the page at 1280 pixels */
  }
</style>
