import { EditorState, type Transaction } from 'prosemirror-state';
import type { Range } from '../changes/list.js';
import { hitId } from '../changes/sweeps.js';
import type { Stamp } from '../manuscript/signature.js';
import { ink } from '../recording/ink.js';
import { record } from '../recording/record.js';
import { placesOf } from './lines.js';
import { replaced } from './replaced.js';
import type { Hit } from './search.js';

/** One of several edits that are one sweep, in a text in which nothing before it has been touched. */
export type Stroke = (state: EditorState) => Transaction;

/**
 * Makes edits throughout a text, as one.
 * @param strokes in the order of their places
 * @param stamp for pencil: each stroke becomes a change of its own, `sweep.1` and on, with one date; null for ink
 */
export function sweepAll(state: EditorState, strokes: readonly Stroke[], stamp: Stamp | null): Transaction {
  const out = state.tr;
  const id = stamp?.newChange() ?? '';
  // From the end to the start, so that places further up stay good.
  for (let i = strokes.length - 1; i >= 0; i--) {
    const now = EditorState.create({ doc: out.doc });
    const plain = strokes[i]!(now);
    const done = stamp
      ? record(now, plain, { ...stamp, newChange: () => hitId(id, i + 1), apart: true })
      : ink(now, plain);
    for (const step of done.steps) out.step(step);
  }
  return out;
}

/** Whether there is something to replace: not in what is carried as it came, and not by the same words. */
export const isReplaced = ({ text, replacement, fixed }: Hit): boolean => !fixed && text !== replacement;

/**
 * Replaces hits of a search throughout, as one edit.
 * @param hits of a search, in order; those that would change nothing are left out
 * @param stamp for pencil; null for ink
 * @param places where they stand in this state's document, see `placesOf` and `placesSince`; those that stand nowhere are
 * left out
 */
export function sweep(
  state: EditorState,
  hits: readonly Hit[],
  stamp: Stamp | null,
  places: readonly Range[][] = placesOf(state.doc, hits),
): Transaction {
  const strokes = hits.flatMap((hit, i): Stroke[] =>
    isReplaced(hit) && places[i]!.length ? [(now) => replaced(now, places[i]!, hit.replacement)] : [],
  );
  return sweepAll(state, strokes, stamp);
}
