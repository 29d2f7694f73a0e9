import { Fragment, Slice, type Node } from 'prosemirror-model';
import { NodeSelection, TextSelection, type Command } from 'prosemirror-state';
import { schema } from '../manuscript/schema.js';

/** Commands that put something other than letters into the text. */

/** A footnote behind the selection. It may not stand in another one. */
export const insertFootnote =
  (text: string): Command =>
  (state, dispatch) => {
    const { $to } = state.selection;
    if (!$to.parent.isTextblock || $to.node(-1).type.name === 'footnote') return false;
    const content = schema.nodes.paragraph.create(null, text ? schema.text(text) : null);
    const tr = state.tr.insert($to.pos, schema.nodes.footnote.create({ kind: 'foot' }, content));
    dispatch?.(tr.setSelection(TextSelection.create(tr.doc, $to.pos + 2)).scrollIntoView());
    return true;
  };

const isFootnote = (node: Node): boolean => node.type === schema.nodes.footnote;

/** The content with the words of its footnotes in their place. */
const plain = (content: Fragment): Fragment =>
  Fragment.fromArray(
    content.content.flatMap((node) => {
      if (isFootnote(node)) return node.children.flatMap(({ content: words }) => words.content);
      return [node.isText ? node : node.copy(plain(node.content))];
    }),
  );

/** How many nodes stand open on one side of the content, at most so many, before a footnote comes. */
function openBefore(content: Fragment, most: number, side: 'firstChild' | 'lastChild'): number {
  let open = 0;
  for (let node = content[side]; node && open < most && !isFootnote(node); node = node[side]) open++;
  return open;
}

/**
 * What is to stand in a footnote, which holds none: the slice with the words of its footnotes in their place. One that was
 * taken from within a footnote is what stood there.
 */
export function withoutFootnotes(slice: Slice): Slice {
  let { content, openStart, openEnd } = slice;
  while (content.childCount === 1 && openStart && openEnd) {
    const only = content.child(0);
    [content, openStart, openEnd] = [only.content, openStart - 1, openEnd - 1];
    if (isFootnote(only)) return new Slice(content, openStart, openEnd);
  }
  const { content: all } = slice;
  const start = openBefore(all, slice.openStart, 'firstChild');
  return new Slice(plain(all), start, openBefore(all, slice.openEnd, 'lastChild'));
}

export interface Picture {
  asset: string;
  alt: string;
  /** In pixels of the screen. */
  width: number | null;
  height: number | null;
}

/** A picture instead of the selection. */
export const insertPicture =
  (picture: Picture): Command =>
  (state, dispatch) => {
    dispatch?.(state.tr.replaceSelectionWith(schema.nodes.image.create({ ...picture }), false).scrollIntoView());
    return true;
  };

/** Sets properties of the selected picture: another file, its description, its size. */
export const changePicture =
  (change: Partial<Picture>): Command =>
  (state, dispatch) => {
    const { node } = state.selection as NodeSelection;
    if (node?.type.name !== 'image') return false;
    const tr = state.tr;
    for (const [name, value] of Object.entries(change)) {
      if (node.attrs[name] !== value) tr.setNodeAttribute(state.selection.from, name, value);
    }
    if (!tr.docChanged) return false;
    dispatch?.(tr.setSelection(NodeSelection.create(tr.doc, state.selection.from)));
    return true;
  };

/** A line across the page where the caret is, as a paragraph of its own. */
export const insertRule: Command = (state, dispatch) => {
  const { $from } = state.selection;
  if (!$from.parent.isTextblock) return false;
  const tr = state.tr.deleteSelection();
  const pos = tr.selection.from;
  tr.split(pos).split(pos);
  tr.setNodeAttribute(pos + 1, 'style', 'rule').setNodeAttribute(pos + 1, 'list', null);
  dispatch?.(tr.scrollIntoView());
  return true;
};
