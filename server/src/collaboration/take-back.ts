import type { Node } from 'prosemirror-model';
import { Mapping, Transform, type Step } from 'prosemirror-transform';

/**
 * Undoes steps that others have built on: their inverses, from the last to the first, each carried over what came later
 * and over the inverses before it.
 * @param before the document the steps were applied to
 * @param steps the steps to undo
 * @param later the steps since
 * @param now the document as it stands
 * @returns the transform that undoes what can still be undone; steps whose place has gone are left out
 */
export function takeBack(before: Node, steps: readonly Step[], later: readonly Step[], now: Node): Transform {
  const docs = [before];
  for (const step of steps) docs.push(step.apply(docs[docs.length - 1]!).doc!);
  const mapping = new Mapping([...steps, ...later].map((step) => step.getMap()));
  const tr = new Transform(now);
  for (let i = steps.length - 1; i >= 0; i--) {
    const inverse = steps[i]!.invert(docs[i]!).map(mapping.slice(i + 1));
    if (inverse && !tr.maybeStep(inverse).failed) mapping.appendMap(inverse.getMap(), i);
  }
  return tr;
}
