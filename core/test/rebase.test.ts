import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import * as collab from 'prosemirror-collab';
import { EditorState } from 'prosemirror-state';
import { Transform, type Step } from 'prosemirror-transform';
import { rebase, record } from '../src/index.js';
import { plainly, someDocument, someEdit, stamps, type Edit } from './support/editing.js';

/** Carrying over comes to what prosemirror-collab does in an editor, step by step: else a sender would not know its own. */

/** What somebody writes, recorded, as one batch. */
function batchOf(doc: Node, edits: readonly Edit[], author: number): Transform {
  const stamp = stamps();
  const tr = new Transform(doc);
  for (const edit of edits) {
    const plain = plainly(tr.doc, edit);
    if (!plain) continue;
    for (const step of record(EditorState.create({ doc: tr.doc }), plain.tr, stamp(author)).steps) tr.step(step);
  }
  return tr;
}

/** What the library does when steps of others come; it is there, but not among its types. */
interface Rebasing {
  rebaseSteps(
    own: readonly { step: Step; inverted: Step; origin: Transform }[],
    others: readonly Step[],
    tr: Transform,
  ): { step: Step }[];
}
const { rebaseSteps } = collab as unknown as Rebasing;

/** What the editor's library makes of it. */
function asInEditor(own: Transform, others: readonly Step[]): { steps: readonly Step[]; doc: Node } {
  const tr = new Transform(own.doc);
  const rebaseable = own.steps.map((step, i) => ({ step, inverted: step.invert(own.docs[i]!), origin: own }));
  const steps = rebaseSteps(rebaseable, others, tr).map(({ step }) => step);
  return { steps, doc: tr.doc };
}

const json = (steps: readonly Step[]) => steps.map((step) => step.toJSON() as object);

test('a batch carried over others is the very one that its editor makes of it', () => {
  let moved = 0;
  fc.assert(
    fc.property(
      someDocument,
      fc.array(someEdit(1), { minLength: 1, maxLength: 12 }),
      fc.array(someEdit(1), { minLength: 1, maxLength: 5 }),
      (doc, mine, yours) => {
        const own = batchOf(doc, mine, 0);
        const others = batchOf(doc, yours, 1);
        const there = asInEditor(own, others.steps);
        const here = rebase(own, others.steps);
        expect(json(here.steps)).toEqual(json(there.steps));
        expect(here.doc.eq(there.doc)).toBe(true);
        if (here.steps.length && others.mapping.maps.some((map) => map.map(1e6) !== 1e6)) moved++;
      },
    ),
    { numRuns: Number(process.env.LAWS_REBASE ?? 400) },
  );
  expect(moved).toBeGreaterThan(20);
});
