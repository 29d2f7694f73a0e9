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
