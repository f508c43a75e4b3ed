/** The one live editor: ProseMirror on the text of the row in hand. Its document is a single line of inline content. */
import { toggleMark } from 'prosemirror-commands';
import { keymap } from 'prosemirror-keymap';
import { Fragment, Schema, type Mark, type Node } from 'prosemirror-model';
import { EditorState, TextSelection } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import type { Run } from '../api/client';
import { BOLD, ITALIC, RUN_IN, STRIKE, SUB, SUPER, UNDERLINE } from '../shared/blocks';

const schema = new Schema({
  nodes: {
    doc: { content: 'inline*' },
    text: { group: 'inline' },
    line_break: { inline: true, group: 'inline', selectable: false, toDOM: () => ['br'], parseDOM: [{ tag: 'br' }] },
    note_mark: {
      inline: true,
      atom: true,
      group: 'inline',
      attrs: { note: {}, text: {} },
      toDOM: (node) => ['sup', { class: 'note-mark', title: 'Mark of a note' }, String(node.attrs.text)],
    },
  },
  marks: {
    bold: { toDOM: () => ['strong', 0], parseDOM: [{ tag: 'strong' }, { tag: 'b' }] },
    italic: { toDOM: () => ['em', 0], parseDOM: [{ tag: 'em' }, { tag: 'i' }] },
    underline: { toDOM: () => ['u', 0], parseDOM: [{ tag: 'u' }] },
    strike: { toDOM: () => ['s', 0], parseDOM: [{ tag: 's' }] },
    super: { excludes: 'sub super', toDOM: () => ['sup', 0], parseDOM: [{ tag: 'sup' }] },
    sub: { excludes: 'sub super', toDOM: () => ['sub', 0], parseDOM: [{ tag: 'sub' }] },
    run_in: { inclusive: false, toDOM: () => ['span', { class: 'run-in', title: 'Run-in heading' }, 0] },
    color: { attrs: { color: {} }, toDOM: (mark) => ['span', { style: `color:#${mark.attrs.color}` }, 0] },
    link: { attrs: { address: {} }, inclusive: false, toDOM: (mark) => ['span', { class: 'link', title: mark.attrs.address }, 0] },
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
];

function marksOf(run: Run): Mark[] {
  const marks = FLAGS.filter(([flag]) => (run.marks ?? 0) & flag).map(([, name]) => schema.marks[name]!.create());
  if (run.color) marks.push(schema.marks.color!.create({ color: run.color }));
  if (run.link) marks.push(schema.marks.link!.create({ address: run.link }));
  return marks;
}

function nodesOf(runs: readonly Run[]): Node[] {
  const nodes: Node[] = [];
  for (const run of runs) {
    const marks = marksOf(run);
    if (run.note) {
      nodes.push(schema.nodes.note_mark!.create({ note: run.note, text: run.text }, null, marks));
      continue;
    }
    run.text.split('\n').forEach((line, i) => {
      if (i) nodes.push(schema.nodes.line_break!.create(null, null, marks));
      if (line) nodes.push(schema.text(line, marks));
    });
  }
  return nodes;
}

function runOf(node: Node): Run {
  let flags = 0;
  for (const [flag, name] of FLAGS) if (node.marks.some((mark) => mark.type.name === name)) flags |= flag;
  const attribute = (name: string, key: string): string | null =>
    (node.marks.find((mark) => mark.type.name === name)?.attrs[key] as string | undefined) ?? null;
  const text = node.isText ? (node.text ?? '') : node.type.name === 'line_break' ? '\n' : String(node.attrs.text);
  return {
    text,
    marks: flags,
    color: attribute('color', 'color'),
    link: attribute('link', 'address'),
    note: node.type.name === 'note_mark' ? String(node.attrs.note) : null,
  };
}

/** The runs of the editor's content. */
export function runsOf(doc: Node): Run[] {
  const runs: Run[] = [];
  doc.forEach((node) => runs.push(runOf(node)));
  return runs;
}

/** Characters before a position of the editor: a note's mark may have several, everything else has one. */
function offsetAt(doc: Node, position: number): number {
  let offset = 0;
  doc.nodesBetween(0, position, (node, at) => {
    if (node.isText) offset += Math.min(position - at, node.nodeSize);
    else if (node !== doc && at < position) offset += node.type.name === 'line_break' ? 1 : String(node.attrs.text).length;
    return node === doc;
  });
  return offset;
}

function positionAt(doc: Node, offset: number): number {
  let position = 0;
  while (position < doc.content.size && offsetAt(doc, position) < offset) position++;
  return position;
}

/** The caret as the browser has it: fast fingers can be ahead of what the editor has heard of. */
function caretOf(state: EditorState, view?: EditorView): number {
  const selection = document.getSelection();
  if (!view || !selection?.isCollapsed || !selection.anchorNode || !view.dom.contains(selection.anchorNode)) return state.selection.from;
  return view.posAtDOM(selection.anchorNode, selection.anchorOffset);
}

/** What the row is told of. Each handler returns whether it did something. */
export interface RowEvents {
  changed: (runs: Run[]) => void;
  split: (offset: number) => boolean;
  joinBefore: () => boolean;
  joinAfter: () => boolean;
  tab: (back: boolean) => boolean;
  leave: (direction: -1 | 0 | 1) => boolean;
  undo: () => boolean;
  redo: () => boolean;
}

export interface RowEditor {
  toggle: (mark: 'bold' | 'italic' | 'underline' | 'run_in') => void;
  offset: () => number;
  destroy: () => void;
}

/** Opens an editor in ``place`` with the caret after ``caret`` characters (-1 for the end), and writes ``typedAhead`` there. */
export function openEditor(
  place: HTMLElement,
  label: string,
  runs: readonly Run[],
  caret: number,
  typedAhead: string,
  events: RowEvents,
): RowEditor {
  const doc = schema.nodes.doc!.create(null, Fragment.fromArray(nodesOf(runs)));
  const atStart = (state: EditorState, view?: EditorView) => state.selection.empty && caretOf(state, view) === 0;
  const atEnd = (state: EditorState, view?: EditorView) => state.selection.empty && caretOf(state, view) === state.doc.content.size;
  const toggled = (name: string) => toggleMark(schema.marks[name]!);
  const keys = keymap({
    Enter: (state, _, view) => events.split(offsetAt(state.doc, caretOf(state, view))),
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
    'Mod-z': events.undo,
    'Mod-y': events.redo,
    'Mod-Shift-z': events.redo,
    Escape: () => events.leave(0),
    ArrowUp: (state, _, view) => !!view?.endOfTextblock('up') && state.selection.empty && events.leave(-1),
    ArrowDown: (state, _, view) => !!view?.endOfTextblock('down') && state.selection.empty && events.leave(1),
  });
  const at = caret < 0 ? doc.content.size : positionAt(doc, caret);
  const view = new EditorView(
    { mount: place },
    {
      state: EditorState.create({ doc, plugins: [keys], selection: TextSelection.create(doc, at) }),
      attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': label },
      // What is pasted is text: looks and structure of other programs do not belong here.
      handlePaste: (view, event) => {
        const text = event.clipboardData?.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n+$/, '') ?? '';
        const nodes = nodesOf([{ text }]);
        view.dispatch(view.state.tr.replaceWith(view.state.selection.from, view.state.selection.to, nodes).scrollIntoView());
        return true;
      },
      dispatchTransaction(transaction) {
        view.updateState(view.state.apply(transaction));
        if (transaction.docChanged) events.changed(runsOf(view.state.doc));
      },
    },
  );
  view.focus();
  if (typedAhead) view.dispatch(view.state.tr.insertText(typedAhead));
  return {
    toggle: (mark) => {
      toggled(mark)(view.state, view.dispatch);
      view.focus();
    },
    offset: () => offsetAt(view.state.doc, view.state.selection.from),
    destroy: () => view.destroy(),
  };
}
