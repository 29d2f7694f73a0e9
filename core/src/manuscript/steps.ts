import { AddNodeMarkStep, AttrStep, RemoveNodeMarkStep, Step, StepResult } from 'prosemirror-transform';
import type { Node, Schema } from 'prosemirror-model';

/** Steps as everything here relies on them, in two places where prosemirror-transform 1.12 is not so. */

/**
 * A step made for a node can meet letters instead, when it is undone or sent again after others have written. As any
 * step that fits no longer, it has to fail; there it throws, and undoing or receiving is left half-way.
 */
export function nodeStepsFail(): void {
  for (const { prototype } of [AttrStep, AddNodeMarkStep, RemoveNodeMarkStep]) {
    const { apply } = prototype;
    prototype.apply = function (doc) {
      const letters = doc.nodeAt(this.pos)?.isText;
      return letters ? StepResult.fail('Letters stand where the node was.') : apply.call(this, doc);
    };
  }
}

interface SetOfSteps extends Step {
  steps: readonly Step[];
}

/**
 * Several marks that change as one step are one set of steps. Undone and made again they become sets of sets there,
 * which cannot be read back from their own JSON; here they stay one set.
 */
export function setsStayFlat(schema: Schema): void {
  const empty = Step.fromJSON(schema, { stepType: 'markSet', steps: [] });
  const kind = empty.constructor as new (steps: readonly Step[]) => SetOfSteps;
  const partsOf = (step: Step): readonly Step[] => (step instanceof kind ? step.steps : [step]);
  kind.prototype.invert = function (this: SetOfSteps, doc: Node) {
    return new kind(this.steps.flatMap((step) => partsOf(step.invert(doc))));
  };
}
