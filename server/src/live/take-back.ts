import type { Node } from 'prosemirror-model';
import { Mapping, Transform, type Step, type StepMap } from 'prosemirror-transform';

/**
 * Undoes steps that others have built on: their inverses, from the last to the first, each carried over what came later
 * and over the inverses before it.
 * @param before the document the steps were applied to
 * @param steps the steps to undo
 * @param later the maps of the steps since, one by one or composed
 * @param now the document as it stands
 * @returns the transform that undoes what can still be undone; steps whose place has gone are left out
 */
export function takeBack(before: Node, steps: readonly Step[], later: readonly StepMap[], now: Node): Transform {
  const then = new Transform(before);
  for (const step of steps) then.step(step);
  const mapping = new Mapping([...steps.map((step) => step.getMap()), ...later]);
  const tr = new Transform(now);
  for (let i = steps.length - 1; i >= 0; i--) {
    const inverse = steps[i]!.invert(then.docs[i]!).map(mapping.slice(i + 1));
    if (inverse && !tr.maybeStep(inverse).failed) mapping.appendMap(inverse.getMap(), i);
  }
  return tr;
}
