import type { ResolvedPos } from 'prosemirror-model';
import { TextSelection, type Command, type EditorState } from 'prosemirror-state';
import { markFor } from '../manuscript/properties.js';
import { schema, type PropertyMarkName } from '../manuscript/schema.js';
import { isSafeAddress, propertyRules } from '../manuscript/values.js';

/** Commands on the look of words: what has a value, and links. */

/**
 * Gives the selected words one property; null takes it away. With nothing selected what is typed next has it.
 * @throws RangeError for a value that the property cannot have
 */
export const setWords =
  (name: PropertyMarkName, value: unknown): Command =>
  (state, dispatch) => {
    if (value !== null && !propertyRules[name](value)) throw new RangeError(`No value of ${name}`);
    const { from, to, empty, $from } = state.selection;
    if (!$from.parent.inlineContent && empty) return false;
    const { tr } = state;
    const type = schema.marks[name];
    if (empty) dispatch?.(value === null ? tr.removeStoredMark(type) : tr.addStoredMark(markFor(name, value)));
    else {
      tr.removeMark(from, to, type);
      if (value !== null) tr.addMark(from, to, markFor(name, value));
      if (!tr.docChanged) return false;
      dispatch?.(tr);
    }
    return true;
  };

/** The stretch of one link around a place, or null. */
function linkAround($pos: ResolvedPos): { from: number; to: number; href: string } | null {
  const { link } = schema.marks;
  const mark = link.isInSet($pos.nodeAfter?.marks ?? []) ?? link.isInSet($pos.nodeBefore?.marks ?? []);
  if (!mark) return null;
  const start = $pos.start();
  let found: { from: number; to: number } | null = null;
  let open: { from: number; to: number } | null = null;
  $pos.parent.forEach((node, offset) => {
    const from = start + offset;
    if (!mark.isInSet(node.marks)) open = null;
    else if (open) open.to = from + node.nodeSize;
    else open = { from, to: from + node.nodeSize };
    if (open && open.from <= $pos.pos && $pos.pos <= open.to) found = open;
  });
  return found && { ...(found as { from: number; to: number }), href: mark.attrs.href as string };
}

/** The words a link command is about: the selected ones, with all of a link that they are a part of, or the link that the caret stands in. */
export function linkAt(state: EditorState): { from: number; to: number; href: string | null } | null {
  const { from, to, empty, $from } = state.selection;
  if (!(state.selection instanceof TextSelection) || !$from.parent.isTextblock) return null;
  if (empty) return linkAround($from);
  let href: string | null = null;
  state.doc.nodesBetween(from, to, (node) => {
    href ??= (schema.marks.link.isInSet(node.marks)?.attrs.href as string | undefined) ?? null;
  });
  const [first, last] = [linkAround($from), linkAround(state.selection.$to)];
  return {
    from: Math.min(from, first && first.to > from ? first.from : from),
    to: Math.max(to, last && last.from < to ? last.to : to),
    href,
  };
}

/** Makes a link of the words, changes the one that is there, or (null) takes it away. */
export const setLink =
  (href: string | null): Command =>
  (state, dispatch) => {
    const words = linkAt(state);
    if (!words || (href !== null && !isSafeAddress(href))) return false;
    const tr = state.tr.removeMark(words.from, words.to, schema.marks.link);
    if (href !== null) tr.addMark(words.from, words.to, markFor('link', href.trim()));
    if (!tr.docChanged) return false;
    dispatch?.(tr);
    return true;
  };
