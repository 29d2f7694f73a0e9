import { splitBlock } from 'prosemirror-commands';
import type { Node } from 'prosemirror-model';
import type { Command } from 'prosemirror-state';
import type { Transform } from 'prosemirror-transform';
import { schema, type ParagraphProperties } from '../manuscript/schema.js';
import type { ListItem } from '../manuscript/values.js';

/** Commands on whole paragraphs. One command over many paragraphs is one edit, and so one change. */

/** The paragraphs the selection touches, with their positions. */
function touched(state: Parameters<Command>[0]) {
  const { from, to } = state.selection;
  const found: { pos: number; attrs: ParagraphProperties }[] = [];
  state.doc.nodesBetween(from, to, (node, pos) => {
    if (node.isTextblock) found.push({ pos, attrs: node.attrs as ParagraphProperties });
    return !node.isTextblock;
  });
  return found;
}

/** Sets properties of every paragraph in the selection. */
export const setParagraphs =
  (change: (attrs: ParagraphProperties) => Partial<ParagraphProperties>): Command =>
  (state, dispatch) => {
    const { tr } = state;
    for (const { pos, attrs } of touched(state)) {
      for (const [name, value] of Object.entries(change(attrs))) tr.setNodeAttribute(pos, name, value);
    }
    if (!tr.docChanged) return false;
    dispatch?.(tr);
    return true;
  };

export const setStyle = (style: ParagraphProperties['style']): Command => setParagraphs(() => ({ style }));

/** Makes list items of the selected paragraphs, or plain paragraphs again if all of them are items of that kind. */
export const toggleList =
  (kind: ListItem['kind']): Command =>
  (state, dispatch) => {
    const all = touched(state).every(({ attrs }) => attrs.list?.kind === kind);
    // How far a list item stands in is its level.
    return setParagraphs(({ list }) => (all ? { list: null } : { list: { kind, level: list?.level ?? 0 }, indent: 0 }))(
      state,
      dispatch,
    );
  };

/** Aligns the selected paragraphs, or takes the alignment back if all of them have it. */
export const toggleAlign =
  (align: NonNullable<ParagraphProperties['align']>): Command =>
  (state, dispatch) => {
    const all = touched(state).every(({ attrs }) => attrs.align === align);
    return setParagraphs(() => ({ align: all ? null : align }))(state, dispatch);
  };

/** Indents the selected paragraphs by one step more or less; items of a list by a level. */
export const shiftIndent = (by: 1 | -1): Command =>
  setParagraphs(({ list, indent }) =>
    list
      ? { list: { ...list, level: Math.min(8, Math.max(0, list.level + by)) } }
      : { indent: Math.min(8, Math.max(0, indent + by)) },
  );

/** Moves list items a level in (1) or out (-1); from the outermost one out of the list. */
export const shiftLevel = (by: 1 | -1): Command =>
  setParagraphs(({ list }) => {
    if (!list) return {};
    const level = list.level + by;
    return { list: level < 0 ? null : { ...list, level: Math.min(level, 8) } };
  });

/** At the start of a list item Backspace first takes it out of the list. */
export const leaveList: Command = (state, dispatch) => {
  const { $from, empty } = state.selection;
  if (!empty || $from.parentOffset > 0 || !$from.parent.attrs.list) return false;
  return setParagraphs(() => ({ list: null }))(state, dispatch);
};

const isSpace = (node: Node | null, at: 0 | -1) =>
  node?.text?.at(at) === ' ' && !node.marks.some(({ type }) => type.name === 'deletion');

/**
 * Where a paragraph is split at a space, the space goes with the split: it would be left at the end of a line or at the
 * beginning of one.
 * @param start where the new paragraph's content begins
 */
export function withoutSpaceAtSplit<T extends Transform>(tr: T, start: number): T {
  if (isSpace(tr.doc.resolve(start).nodeAfter, 0)) tr.delete(start, start + 1);
  const end = start - 2;
  if (end > 0 && isSpace(tr.doc.resolve(end).nodeBefore, -1)) tr.delete(end - 1, end);
  return tr;
}

/** Enter: an empty list item ends the list; after a heading comes body text; else the paragraph goes on as it is. */
export const enter: Command = (state, dispatch) => {
  const { $from, empty } = state.selection;
  const { list, style } = $from.parent.attrs as ParagraphProperties;
  if (empty && list && $from.parent.content.size === 0) return setParagraphs(() => ({ list: null }))(state, dispatch);
  const goesOn =
    empty && $from.parentOffset === $from.parent.content.size && (list || style === 'body' || style === 'quotation');
  const { attrs } = $from.parent;
  return splitBlock(
    state,
    dispatch &&
      ((tr) => {
        // At its end a paragraph would be followed by a plain one.
        if (goesOn)
          for (const name of Object.keys(attrs)) tr.setNodeAttribute(tr.selection.$from.before(), name, attrs[name]);
        if ($from.parentOffset > 0) withoutSpaceAtSplit(tr, tr.selection.from);
        dispatch(tr.scrollIntoView());
      }),
  );
};

/** A line break instead of the selection. */
export const lineBreak: Command = (state, dispatch) => {
  dispatch?.(state.tr.replaceSelectionWith(schema.nodes.line_break.create()).scrollIntoView());
  return true;
};
