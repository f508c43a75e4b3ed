/** The one live editor: ProseMirror on the text of the row in hand. Its document is a single line of inline content. */
import { toggleMark } from 'prosemirror-commands';
import { keymap } from 'prosemirror-keymap';
import { Fragment, Schema, type Mark, type Node } from 'prosemirror-model';
import { EditorState, NodeSelection, TextSelection } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { pictureAddress, type Equation, type Inline, type Lettering } from '../api/client';
import { drawInto } from '../shared/equations';
import { faceOf, sizeOf } from './looks';
import { BOLD, ITALIC, RUN_IN, SMALL_CAPITALS, STRIKE, SUB, SUPER, UNDERLINE } from '../shared/blocks';

const schema = new Schema({
  nodes: {
    doc: { content: 'inline*' },
    text: { group: 'inline' },
    line_break: { inline: true, group: 'inline', selectable: false, toDOM: () => ['br'], parseDOM: [{ tag: 'br' }] },
    tab: { inline: true, group: 'inline', selectable: false, toDOM: () => ['span', { class: 'tab' }, '\t'], parseDOM: [{ tag: 'span.tab' }] },
    field: {
      inline: true,
      atom: true,
      group: 'inline',
      attrs: { kind: {} },
      toDOM: (node) => ['span', { class: 'field', title: 'Worked out when the document is shown' }, String(node.attrs.kind)],
    },
    picture: {
      inline: true,
      atom: true,
      group: 'inline',
      attrs: { picture: {}, media: {}, width: {}, height: {}, alt: {} },
      toDOM: (node) => ['img', { class: 'in-line', src: pictureAddress(String(node.attrs.picture)), alt: String(node.attrs.alt || 'Picture in the line') }],
    },
    equation: {
      inline: true,
      atom: true,
      group: 'inline',
      attrs: { equation: {} },
      toDOM: () => ['span', { class: 'equation' }],
    },
    note_mark: {
      inline: true,
      atom: true,
      group: 'inline',
      attrs: { note: {}, mark: {} },
      toDOM: (node) => ['sup', { class: 'note-mark', title: 'Mark of a note' }, String(node.attrs.mark)],
    },
  },
  marks: {
    bold: { toDOM: () => ['strong', 0], parseDOM: [{ tag: 'strong' }, { tag: 'b' }] },
    italic: { toDOM: () => ['em', 0], parseDOM: [{ tag: 'em' }, { tag: 'i' }] },
    underline: { toDOM: () => ['u', 0], parseDOM: [{ tag: 'u' }] },
    strike: { toDOM: () => ['s', 0], parseDOM: [{ tag: 's' }] },
    super: { excludes: 'sub super', toDOM: () => ['sup', 0], parseDOM: [{ tag: 'sup' }] },
    sub: { excludes: 'sub super', toDOM: () => ['sub', 0], parseDOM: [{ tag: 'sub' }] },
    small_capitals: { toDOM: () => ['span', { style: 'font-variant-caps:small-caps' }, 0], parseDOM: [{ style: 'font-variant-caps=small-caps' }] },
    run_in: { inclusive: false, toDOM: () => ['span', { class: 'run-in', title: 'Run-in heading' }, 0] },
    font: { attrs: { font: {} }, toDOM: (mark) => ['span', { style: `font-family:${faceOf(String(mark.attrs.font))}` }, 0] },
    size: { attrs: { size: {} }, toDOM: (mark) => ['span', { style: sizeOf(Number(mark.attrs.size)) }, 0] },
    ground: { attrs: { ground: {} }, toDOM: (mark) => ['span', { style: `background:#${mark.attrs.ground}` }, 0] },
    color: { attrs: { color: {} }, toDOM: (mark) => ['span', { style: `color:#${mark.attrs.color}` }, 0] },
    link: { attrs: { target: {} }, inclusive: false, toDOM: (mark) => ['span', { class: 'link', title: mark.attrs.target.url ?? '' }, 0] },
  },
});

const FLAGS: readonly [number, string][] = [
  [BOLD, 'bold'],
  [ITALIC, 'italic'],
  [UNDERLINE, 'underline'],
  [STRIKE, 'strike'],
  [SUPER, 'super'],
  [SUB, 'sub'],
  [RUN_IN, 'run_in'],
  [SMALL_CAPITALS, 'small_capitals'],
];

/** What the clerk's hand can give text besides marks and colour. */
const LETTERING = ['font', 'size', 'ground'] as const;

function marksOf(item: Inline): Mark[] {
  const marks = FLAGS.filter(([flag]) => (item.marks ?? 0) & flag).map(([, name]) => schema.marks[name]!.create());
  if (item.type === 'text') {
    for (const name of LETTERING) if (item.lettering?.[name]) marks.push(schema.marks[name]!.create({ [name]: item.lettering[name] }));
  }
  if (item.color) marks.push(schema.marks.color!.create({ color: item.color }));
  if (item.link) marks.push(schema.marks.link!.create({ target: item.link }));
  return marks;
}

function nodeOf(item: Inline): Node {
  const marks = marksOf(item);
  switch (item.type) {
    case 'text':
      return schema.text(item.text, marks);
    case 'tab':
      return schema.nodes.tab!.create(null, null, marks);
    case 'break':
      return schema.nodes.line_break!.create(null, null, marks);
    case 'note':
      return schema.nodes.note_mark!.create({ note: item.note, mark: item.mark ?? '' }, null, marks);
    case 'picture':
      return schema.nodes.picture!.create({ picture: item.picture, media: item.media, width: item.width, height: item.height, alt: item.alt ?? '' }, null, marks);
    case 'equation':
      return schema.nodes.equation!.create({ equation: item }, null, marks);
    case 'field':
      return schema.nodes.field!.create({ kind: item.kind }, null, marks);
  }
}

/** What is pasted: its lines and tabs as elements of their own. */
function nodesOfText(text: string): Node[] {
  return text.split(/([\n\t])/).flatMap((piece): Node[] => {
    if (piece === '\n') return [schema.nodes.line_break!.create()];
    if (piece === '\t') return [schema.nodes.tab!.create()];
    return piece ? [schema.text(piece)] : [];
  });
}

/** The lettering of text, nothing where it is as the style has it. */
function letteringOf(attribute: (name: string, key: string) => unknown): { lettering?: Lettering } {
  const set = LETTERING.map((name) => [name, attribute(name, name)] as const).filter(([, value]) => value);
  return set.length ? { lettering: Object.fromEntries(set) } : {};
}

function itemOf(node: Node): Inline {
  let marks = 0;
  for (const [flag, name] of FLAGS) if (node.marks.some((mark) => mark.type.name === name)) marks |= flag;
  const attribute = (name: string, key: string): unknown => node.marks.find((mark) => mark.type.name === name)?.attrs[key] ?? null;
  const look = { marks, color: attribute('color', 'color') as string | null, link: attribute('link', 'target') as Inline['link'] };
  switch (node.type.name) {
    case 'tab':
      return { type: 'tab', ...look };
    case 'line_break':
      return { type: 'break', ...look };
    case 'note_mark':
      return { type: 'note', note: String(node.attrs.note), mark: String(node.attrs.mark), ...look };
    case 'picture': {
      const { picture, media, width, height, alt } = node.attrs as { picture: string; media: string; width: number; height: number; alt: string };
      return { type: 'picture', picture, media, width, height, alt, ...look };
    }
    case 'equation':
      return { ...(node.attrs.equation as Equation), ...look };
    case 'field':
      return { type: 'field', kind: node.attrs.kind as 'page', ...look };
    default:
      return { type: 'text', text: node.text ?? '', ...look, ...letteringOf(attribute) };
  }
}

/** Content as the editor has it. */
export function documentOf(content: readonly Inline[]): Node {
  return schema.nodes.doc!.create(null, Fragment.fromArray(content.map(nodeOf)));
}

/** The content of the editor. A place in the editor is one in the plain text: every element that is no text takes one character. */
export function contentOf(doc: Node): Inline[] {
  const content: Inline[] = [];
  doc.forEach((node) => content.push(itemOf(node)));
  return content;
}

/** The caret as the browser has it: fast fingers can be ahead of what the editor has heard of. */
function caretOf(state: EditorState, view?: EditorView): number {
  const selection = document.getSelection();
  if (!view || !selection?.isCollapsed || !selection.anchorNode || !view.dom.contains(selection.anchorNode)) return state.selection.from;
  return view.posAtDOM(selection.anchorNode, selection.anchorOffset);
}

/** What is marked, as the browser has it. */
function markedOf(state: EditorState, view?: EditorView): [number, number] {
  const selection = document.getSelection();
  const { anchorNode, focusNode } = selection ?? {};
  const inside = view && anchorNode && focusNode && view.dom.contains(anchorNode) && view.dom.contains(focusNode);
  if (!selection || !inside || state.selection instanceof NodeSelection) return [state.selection.from, state.selection.to];
  const ends = [view.posAtDOM(anchorNode, selection.anchorOffset), view.posAtDOM(focusNode, selection.focusOffset)] as const;
  return [Math.min(...ends), Math.max(...ends)];
}

/** What is marked, the equation that stands before the caret, or the place of the caret for a new one: the characters from, and up to. */
function equationAt(state: EditorState, view?: EditorView): [number, number] {
  const [from, to] = markedOf(state, view);
  if (from < to) return [from, to];
  return from > 0 && state.doc.nodeAt(from - 1)?.type.name === 'equation' ? [from - 1, from] : [from, from];
}

/** What the row is told of. Each handler returns whether it did something. */
export interface RowEvents {
  changed: (content: Inline[]) => void;
  split: (offset: number) => boolean;
  joinBefore: () => boolean;
  joinAfter: () => boolean;
  tab: (back: boolean) => boolean;
  leave: (direction: -1 | 0 | 1) => boolean;
  undo: () => boolean;
  redo: () => boolean;
  /** Goes to the tools of the row. */
  tools: () => boolean;
  /** Takes what is pasted, where it is for more than this text. */
  pasted?: (text: string) => boolean;
  /** Opens the equation that some characters are, or one that is to take their place. */
  equation: (at: number, until: number) => boolean;
}

/** Looks of marked text. */
export type TextMark = 'bold' | 'italic' | 'underline' | 'strike' | 'super' | 'sub' | 'small_capitals' | 'run_in';

export interface RowEditor {
  toggle: (mark: TextMark) => void;
  /** Gives what is marked a colour or a ground (six hexadecimal digits), a typeface, a size in points, or takes it away. */
  give: (what: 'color' | 'ground' | 'font' | 'size', value: string | number | null) => void;
  /** The size of the text at the caret in points, where it has one of its own. */
  size: () => number | null;
  equation: () => void;
  /** Puts a tab at the caret. */
  tab: () => void;
  offset: () => number;
  focus: () => void;
  destroy: () => void;
}

/** Opens an editor in ``place`` in a ``language``, with the caret after ``caret`` characters (-1 for the end), and writes ``typedAhead`` there. */
export function openEditor(
  place: HTMLElement,
  label: string,
  language: string,
  content: readonly Inline[],
  caret: number,
  typedAhead: string,
  events: RowEvents,
): RowEditor {
  const doc = documentOf(content);
  const atStart = (state: EditorState, view?: EditorView) => state.selection.empty && caretOf(state, view) === 0;
  const atEnd = (state: EditorState, view?: EditorView) => state.selection.empty && caretOf(state, view) === state.doc.content.size;
  const toggled = (name: string) => toggleMark(schema.marks[name]!);
  const keys = keymap({
    Enter: (state, _, view) => events.split(caretOf(state, view)),
    'Shift-Enter': (state, dispatch) => {
      dispatch?.(state.tr.replaceSelectionWith(schema.nodes.line_break!.create()).scrollIntoView());
      return true;
    },
    Backspace: (state, _, view) => atStart(state, view) && events.joinBefore(),
    Delete: (state, _, view) => atEnd(state, view) && events.joinAfter(),
    Tab: () => events.tab(false),
    'Shift-Tab': () => events.tab(true),
    'Mod-b': toggled('bold'),
    'Mod-i': toggled('italic'),
    'Mod-u': toggled('underline'),
    'Mod-h': toggled('run_in'),
    'Mod-m': (state, _, view) => events.equation(...equationAt(state, view)),
    'Mod-z': events.undo,
    'Mod-y': events.redo,
    'Mod-Shift-z': events.redo,
    'Alt-Enter': events.tools,
    Escape: () => events.leave(0),
    ArrowUp: (state, _, view) => !!view?.endOfTextblock('up') && state.selection.empty && events.leave(-1),
    ArrowDown: (state, _, view) => !!view?.endOfTextblock('down') && state.selection.empty && events.leave(1),
  });
  const at = caret < 0 ? doc.content.size : Math.min(caret, doc.content.size);
  const view = new EditorView(
    { mount: place },
    {
      state: EditorState.create({ doc, plugins: [keys], selection: TextSelection.create(doc, at) }),
      nodeViews: {
        equation: (node, _, getPos) => {
          const dom = document.createElement('span');
          drawInto(dom, node.attrs.equation as Equation, language);
          dom.addEventListener('dblclick', () => events.equation(getPos() ?? 0, (getPos() ?? 0) + 1));
          return { dom, ignoreMutation: () => true };
        },
        // Its width is set from outside.
        tab: () => {
          const dom = document.createElement('span');
          dom.className = 'tab';
          dom.textContent = '\t';
          return { dom, ignoreMutation: () => true };
        },
      },
      attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': label },
      // What is pasted is text: looks and structure of other programs do not belong here.
      handlePaste: (view, event) => {
        const text = event.clipboardData?.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n+$/, '') ?? '';
        if (events.pasted?.(text)) return true;
        const nodes = nodesOfText(text);
        view.dispatch(view.state.tr.replaceWith(view.state.selection.from, view.state.selection.to, nodes).scrollIntoView());
        return true;
      },
      dispatchTransaction(transaction) {
        view.updateState(view.state.apply(transaction));
        if (transaction.docChanged) events.changed(contentOf(view.state.doc));
      },
    },
  );
  // A menu that was opened while the text was being made keeps the focus, and so does a field of a side panel.
  if (!document.activeElement?.closest('[role="menu"], aside :is(input, textarea, select)')) view.focus();
  if (typedAhead) view.dispatch(view.state.tr.insertText(typedAhead));
  return {
    toggle: (mark) => {
      toggled(mark)(view.state, view.dispatch);
      view.focus();
    },
    give: (what, value) => {
      const { from, to } = view.state.selection;
      const mark = schema.marks[what]!;
      view.dispatch(value ? view.state.tr.addMark(from, to, mark.create({ [what]: value })) : view.state.tr.removeMark(from, to, mark));
      view.focus();
    },
    size: () => {
      const { $from, from, to } = view.state.selection;
      const marks = (from < to ? view.state.doc.nodeAt(from)?.marks : null) ?? $from.marks();
      return (marks.find((mark) => mark.type.name === 'size')?.attrs.size as number | undefined) ?? null;
    },
    equation: () => void events.equation(...equationAt(view.state, view)),
    tab: () => {
      view.dispatch(view.state.tr.replaceWith(...markedOf(view.state, view), schema.nodes.tab!.create()).scrollIntoView());
      view.focus();
    },
    offset: () => view.state.selection.from,
    focus: () => {
      // The caret may have been moved in the browser before the editor heard of it: the focus must not put it back.
      const [from, to] = markedOf(view.state, view);
      if (!(view.state.selection instanceof NodeSelection)) view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, from, to)));
      view.focus();
    },
    destroy: () => view.destroy(),
  };
}
