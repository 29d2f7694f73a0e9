import fc from 'fast-check';
import { Fragment, type Node } from 'prosemirror-model';
import * as collab from 'prosemirror-collab';
import { EditorState } from 'prosemirror-state';
import { Transform, type Step } from 'prosemirror-transform';
import { rebase, record } from '../src/index.js';
import { batchOf, someDocument, someEdit, stamps } from './support/editing.js';

/** Carrying over comes to what prosemirror-collab does in an editor, step by step: else a sender would not know its own. */

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
    { numRuns: Number(process.env.LAWS_REBASE ?? 200) },
  );
  expect(moved).toBeGreaterThan(20);
});

test('carried over all that others did at once, it is what it is carried over one batch after the other', () => {
  let moved = 0;
  fc.assert(
    fc.property(
      someDocument,
      fc.array(someEdit(1), { minLength: 1, maxLength: 12 }),
      fc.array(fc.array(someEdit(1), { minLength: 1, maxLength: 2 }), { minLength: 2, maxLength: 6 }),
      (doc, mine, batches) => {
        const own = batchOf(doc, mine, 0);
        let oneByOne = own;
        let others = new Transform(doc);
        const theirs: Step[] = [];
        for (const [i, edits] of batches.entries()) {
          others = batchOf(others.doc, edits, 1 + (i % 2));
          theirs.push(...others.steps);
          oneByOne = rebase(oneByOne, others.steps);
        }
        const atOnce = rebase(own, theirs);
        expect(json(atOnce.steps)).toEqual(json(oneByOne.steps));
        expect(atOnce.doc.eq(oneByOne.doc)).toBe(true);
        if (atOnce.steps.length && theirs.some((step) => step.getMap().map(1e6) !== 1e6)) moved++;
      },
    ),
    { numRuns: Number(process.env.LAWS_REBASE ?? 200) },
  );
  expect(moved).toBeGreaterThan(20);
});

test('of a sweep through a long text only what others touched could be in the way; it comes to the same', () => {
  const paragraphs = fc
    .array(someDocument, { minLength: 3, maxLength: 6 })
    .map((docs) =>
      docs[0]!.copy(Fragment.fromArray([docs, docs, docs, docs].flat().flatMap(({ children }) => [...children]))),
    );
  /** Words put in, or struck out, in most of the blocks, from either end. */
  const someSweep = fc.record({
    strikes: fc.array(fc.boolean(), { minLength: 1 }),
    fromTheEnd: fc.boolean(),
    recorded: fc.boolean(),
  });
  type Sweep = typeof someSweep extends fc.Arbitrary<infer T> ? T : never;
  const sweep = (doc: Node, { strikes, fromTheEnd, recorded }: Sweep): Transform => {
    const { tr } = EditorState.create({ doc });
    const places: { pos: number; size: number }[] = [];
    doc.forEach(({ isTextblock, content }, pos) => isTextblock && places.push({ pos: pos + 1, size: content.size }));
    for (const [i, { pos, size }] of (fromTheEnd ? places.reverse() : places).entries()) {
      // Two in each, the one behind first.
      for (const [k, offset] of [Math.floor(size / 2), 0].entries()) {
        const at = tr.mapping.map(pos + offset);
        if (strikes[(2 * i + k) % strikes.length] && size > 2) tr.delete(at, at + 1);
        else tr.insertText('X', at);
      }
    }
    return recorded ? record(EditorState.create({ doc }), tr, stamps()(0)) : tr;
  };
  let most = 0;
  fc.assert(
    fc.property(paragraphs, someSweep, fc.array(someEdit(1), { minLength: 1, maxLength: 5 }), (doc, how, yours) => {
      const own = sweep(doc, how);
      most = Math.max(most, own.steps.length);
      const others = batchOf(doc, yours, 1);
      const there = asInEditor(own, others.steps);
      const here = rebase(own, others.steps);
      expect(json(here.steps)).toEqual(json(there.steps));
      expect(here.doc.eq(there.doc)).toBe(true);
    }),
    { numRuns: Number(process.env.LAWS_REBASE ?? 80) },
  );
  expect(most).toBeGreaterThan(150); // more than are carried in one group
});
