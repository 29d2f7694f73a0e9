import type { Mark } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';
import { isProperty, schema } from '../manuscript/schema.js';

/**
 * The plain edit that puts words in the place of others; the new ones look like the first of the old ones, or like those
 * before them where there are none.
 * @param ranges the old words, in order; one of no length where there are none
 */
export function replaced(
  state: EditorState,
  ranges: readonly { from: number; to: number }[],
  replacement: string,
): Transaction {
  const { tr } = state;
  for (const { from, to } of ranges.slice(1).reverse()) tr.delete(from, to);
  const { from, to } = ranges[0]!;
  const place = state.doc.resolve(from);
  const like = (from === to && place.nodeBefore) || place.nodeAfter;
  const marks = (like?.marks ?? []).filter((mark: Mark) => isProperty(mark.type.name));
  if (replacement) return tr.replaceWith(from, to, schema.text(replacement, marks));
  return from === to ? tr : tr.delete(from, to);
}
