import type { Node } from 'prosemirror-model';
import { Transform, type Step, type StepMap } from 'prosemirror-transform';
import { OnBlocks } from '../row/on-blocks.js';
import { carriedOver } from './rebase.js';

/** Undoing steps that others have built on. Both parts go step by step: whoever has others waiting lets them go on. */

/**
 * The steps that undo some others at once, the last first.
 * @param before the document that the steps were carried out on
 * @throws RangeError where they do not fit it
 */
export function* inversesOf(before: Node, steps: readonly Step[]): Generator<undefined, Step[]> {
  const then = new OnBlocks(before);
  for (const step of steps) {
    then.step(step);
    yield;
  }
  return yield* then.inverses();
}

/**
 * Undoes steps whatever came after them.
 * @param inverses those of `inversesOf`
 * @param later the maps of the steps since, one by one or composed
 * @param now the document as it stands
 * @returns what can still be undone; steps whose place has gone are left out
 */
export function* takenBack(
  inverses: readonly Step[],
  later: readonly StepMap[],
  now: Node,
): Generator<undefined, Transform> {
  const back = new OnBlocks(now);
  for (const step of yield* carriedOver(inverses, later, now)) {
    back.try(step);
    yield;
  }
  return back.addTo(new Transform(now));
}
