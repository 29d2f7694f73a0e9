import type { Mark } from 'prosemirror-model';
import { EditorState, type Transaction } from 'prosemirror-state';
import { hitId } from '../changes/sweeps.js';
import type { Stamp } from '../manuscript/signature.js';
import { isProperty, schema } from '../manuscript/schema.js';
import { ink } from '../recording/ink.js';
import { record } from '../recording/record.js';
import { placesOf } from './lines.js';
import type { Hit } from './search.js';

/** The plain edit that replaces one hit; the new words look like the first of the old ones. */
function replaced(state: EditorState, ranges: readonly { from: number; to: number }[], replacement: string) {
  const { tr } = state;
  for (const { from, to } of ranges.slice(1).reverse()) tr.delete(from, to);
  const { from, to } = ranges[0]!;
  const marks = (state.doc.resolve(from).nodeAfter?.marks ?? []).filter((mark: Mark) => isProperty(mark.type.name));
  return replacement ? tr.replaceWith(from, to, schema.text(replacement, marks)) : tr.delete(from, to);
}

/**
 * Replaces hits of a search throughout, as one edit.
 * @param hits of a search in the lines of this state's document, in order; those that would change nothing are left out
 * @param stamp for pencil: each hit becomes a change of its own, `sweep.1` and on, with one date; null for ink
 */
export function sweep(state: EditorState, hits: readonly Hit[], stamp: Stamp | null): Transaction {
  const wanted = hits.filter(({ text, replacement, fixed }) => !fixed && text !== replacement);
  const places = placesOf(state.doc, wanted);
  const out = state.tr;
  const id = stamp?.newChange() ?? '';
  // From the end to the start, so that places further up stay good.
  for (let i = wanted.length - 1; i >= 0; i--) {
    if (!places[i]!.length) continue;
    const now = EditorState.create({ doc: out.doc });
    const plain = replaced(now, places[i]!, wanted[i]!.replacement);
    const done = stamp
      ? record(now, plain, { ...stamp, newChange: () => hitId(id, i + 1), apart: true })
      : ink(now, plain);
    for (const step of done.steps) out.step(step);
  }
  return out;
}
