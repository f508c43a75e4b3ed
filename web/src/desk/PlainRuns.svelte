<script lang="ts">
  /** Content drawn without an editor. Text is only ever set as text, whatever it contains. */
  import { pictureAddress, type Inline, type Lettering, type PlacedQuery } from '../api/client';
  import EquationView from './EquationView.svelte';
  import { faceOf, sizeOf } from './looks';
  import { BOLD, ITALIC, plainOf, readable, RUN_IN, SMALL_CAPITALS, STRIKE, SUB, SUPER, UNDERLINE } from '../shared/blocks';

  interface Props {
    content: readonly Inline[];
    /** Queries on the text, marked where they are. */
    queries?: readonly PlacedQuery[];
    current?: string | null;
    open?: (query: PlacedQuery) => void;
    /** Opens the equation at a place. */
    openEquation?: (at: number) => void;
    language?: string;
  }
  let { content, queries = [], current = null, open = () => undefined, openEquation = () => undefined, language = 'en' }: Props = $props();

  interface Piece {
    item: Inline;
    text: string;
    at: number;
    query?: PlacedQuery;
  }

  /** The content, cut where queries begin and end. */
  const pieces = $derived.by(() => {
    const marked = queries.filter((one) => (one.query.end ?? 0) > (one.query.start ?? 0));
    const out: Piece[] = [];
    let at = 0;
    for (const item of content) {
      const plain = plainOf(item);
      const end = at + plain.length;
      const cuts = new Set([at, end]);
      for (const { query } of marked)
        for (const place of [query.start ?? 0, query.end ?? 0]) if (place > at && place < end) cuts.add(place);
      const places = [...cuts].sort((a, b) => a - b);
      places.slice(0, -1).forEach((start, i) => {
        const query = marked.find((one) => (one.query.start ?? 0) <= start && start < (one.query.end ?? 0));
        const text = item.type === 'text' ? plain.slice(start - at, places[i + 1]! - at) : item.type === 'note' ? readable([item]) : plain;
        out.push({ item, text, at, query });
      });
      at = end;
    }
    return out;
  });

  function linkTitle(item: Inline): string | undefined {
    if (!item.link) return undefined;
    return item.link.to === 'url' ? item.link.url : item.link.to === 'page' ? `to page ${item.link.page}` : 'to another row';
  }

  function lettered({ font, size, ground }: Lettering): string[] {
    return [font ? `font-family:${faceOf(font)}` : '', size ? sizeOf(size) : '', ground ? `background:#${ground}` : ''];
  }

  function look(item: Inline): string {
    const marks = item.marks ?? 0;
    const lines = [marks & UNDERLINE || item.link ? 'underline' : '', marks & STRIKE ? 'line-through' : ''].filter(Boolean);
    return [
      marks & BOLD ? 'font-weight:var(--emphasis-weight)' : '',
      marks & ITALIC ? 'font-style:var(--emphasis-style)' : '',
      lines.length ? `text-decoration:${lines.join(' ')}` : '',
      marks & SMALL_CAPITALS ? 'font-variant-caps:small-caps' : '',
      marks & SUPER ? 'vertical-align:super;font-size:0.72em;line-height:1' : '',
      marks & SUB ? 'vertical-align:sub;font-size:0.72em;line-height:1' : '',
      item.color ? `color:#${item.color}` : '',
      ...(item.type === 'text' && item.lettering ? lettered(item.lettering) : []),
    ]
      .filter(Boolean)
      .join(';');
  }
</script>

{#each pieces as { item, text, at, query }, i (i)}{#if item.type === 'equation'}<EquationView equation={item} {language} open={() => openEquation(at)} />{:else if query}<button
      class="doubt"
      class:kept={query.left}
      class:current={query.id === current}
      style={look(item)}
      tabindex="-1"
      title="A query: {query.query.reason}"
      onclick={(event) => {
        event.stopPropagation();
        open(query);
      }}>{text}</button
    >{:else if item.type === 'picture'}<img class="in-line" src={pictureAddress(item.picture)} alt={item.alt || 'Picture in the line'} />{:else}<span class:tab={item.type === 'tab'} class:link={item.link} class:note-mark={item.type === 'note'} class:run-in={(item.marks ?? 0) & RUN_IN} style={look(item)} title={linkTitle(item)}>{text}</span>{/if}{/each}

<style>
  .in-line {
    height: 1.15em;
    vertical-align: text-bottom;
  }
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
