import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { Mapping, Transform, type Step, type StepMap } from 'prosemirror-transform';
import { inversesOf, takenBack } from '../src/index.js';
import { atOnce } from '../src/manuscript/at-once.js';
import { batchOf, someDocument, someEdit } from './support/editing.js';

/** Undoing what others have built on comes to what the mappings of prosemirror-transform make of it, one inverse at a time. */

/** Each inverse carried by the library over what came later and over the inverses before it; it grows with the square. */
function byTheLibrary(own: Transform, later: readonly StepMap[], now: Node): Transform {
  const mapping = new Mapping([...own.mapping.maps, ...later]);
  const tr = new Transform(now);
  for (let i = own.steps.length - 1; i >= 0; i--) {
    const inverse = own.steps[i]!.invert(own.docs[i]!).map(mapping.slice(i + 1));
    if (inverse && !tr.maybeStep(inverse).failed) mapping.appendMap(inverse.getMap(), i);
  }
  return tr;
}

const undone = (before: Node, steps: readonly Step[], later: readonly StepMap[], now: Node) =>
  atOnce(takenBack(atOnce(inversesOf(before, steps)), later, now));
const json = ({ steps }: Transform) => steps.map((step) => step.toJSON() as object);
const edits = (most: number) => fc.array(someEdit(1), { minLength: 1, maxLength: most });

test('what others have built on is undone step for step as by the library', () => {
  let amid = 0;
  fc.assert(
    fc.property(someDocument, edits(12), edits(6), (doc, mine, yours) => {
      const own = batchOf(doc, mine, 0);
      const since = batchOf(own.doc, yours, 1);
      const there = byTheLibrary(own, since.mapping.maps, since.doc);
      const here = undone(doc, own.steps, since.mapping.maps, since.doc);
      expect(json(here)).toEqual(json(there));
      expect(here.doc.eq(there.doc)).toBe(true);
      if (here.steps.length && since.steps.length) amid++;
    }),
    { numRuns: Number(process.env.LAWS_REBASE ?? 200) },
  );
  expect(amid).toBeGreaterThan(100);
});

test('where nothing came later the text is what it was', () => {
  fc.assert(
    fc.property(someDocument, edits(12), (doc, mine) => {
      const own = batchOf(doc, mine, 0);
      expect(undone(doc, own.steps, [], own.doc).doc.eq(doc)).toBe(true);
    }),
  );
});
