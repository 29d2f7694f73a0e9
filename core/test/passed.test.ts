import fc from 'fast-check';
import { Fragment, type Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import type { Transform } from 'prosemirror-transform';
import {
  changeIds,
  checkBatch,
  checkInParts,
  Passed,
  rebase,
  record,
  schema,
  type Intent,
  type Sender,
} from '../src/index.js';
import { authors, batchOf, documentOf, plainly, someDocument, someEdit, stamps } from './support/editing.js';

/** What was found right beside the turn is not looked at again where nobody has touched it; the verdict is the same. */

const now = '2026-11-10T10:00:00Z';
const senderFor = (doc: Node): Sender => {
  const ids = changeIds(doc);
  return { author: authors[0]!, now, known: (id) => ids.get(id) };
};
const batch = (doc: Node, tr: Transform, intent: Intent) =>
  [doc, tr.doc, tr.steps, tr.mapping, intent, senderFor(doc)] as const;

/** The verdict, and how many places were looked at for it. */
function looking(check: Generator<undefined, string | null>): { verdict: string | null; looked: number } {
  for (let looked = 0; ; looked++) {
    const { done, value } = check.next();
    if (done) return { verdict: value, looked };
  }
}

/** Several texts one after the other, so that there is room between what people touch. */
const someText = fc
  .array(someDocument, { minLength: 2, maxLength: 4 })
  .map((docs) => docs[0]!.copy(Fragment.fromArray(docs.flatMap(({ children }) => [...children]))));
/** Names for the changes of others, none of them one of ours. */
const theirs = () => {
  const stampOf = stamps();
  return (by: number) => {
    const { newChange, ...stamp } = stampOf(by);
    return { ...stamp, newChange: () => `their-${newChange()}` };
  };
};
const edits = (least: number) => fc.array(someEdit(1), { minLength: least, maxLength: 5 });

test('a batch that was right, carried over others, has the verdict that it has anew', () => {
  const seen = { right: 0, wrong: 0 };
  fc.assert(
    fc.property(someText, edits(2), edits(1), fc.boolean(), (doc, mine, yours, plain) => {
      const own = batchOf(doc, mine, 0);
      const passed = new Passed();
      fc.pre(looking(checkInParts(...batch(doc, own, 'pencil'), passed)).verdict === null);
      const others = batchOf(doc, yours, 1, theirs);
      const here = rebase(own, others.steps);
      if (plain) {
        // And then something unrecorded with it, which nobody has looked at.
        const more = plainly(here.doc, mine[0]!);
        for (const step of more?.tr.steps ?? []) here.step(step);
      }
      const anew = checkBatch(...batch(others.doc, here, 'pencil'));
      expect(looking(checkInParts(...batch(others.doc, here, 'pencil'), passed)).verdict).toBe(anew);
      seen[anew === null ? 'right' : 'wrong']++;
    }),
    { numRuns: Number(process.env.LAWS_REBASE ?? 200) },
  );
  expect(seen.right).toBeGreaterThan(50);
  expect(seen.wrong).toBeGreaterThan(20);
});

describe('of a sweep through a text', () => {
  const doc = documentOf(...Array.from({ length: 60 }, (_, i) => `The ${i}th tide comes in`));
  const sweep = (by: number) => {
    const { tr } = EditorState.create({ doc });
    doc.forEach((_, pos) => tr.insertText('X', tr.mapping.map(pos + 5)));
    return record(EditorState.create({ doc }), tr, stamps()(by));
  };
  const own = sweep(0);
  const passed = new Passed();
  const whole = looking(checkInParts(...batch(doc, own, 'pencil'), passed));

  test('only what somebody has touched meanwhile is looked at again', () => {
    const state = EditorState.create({ doc });
    const others = record(state, state.tr.insertText('low ', 400), theirs()(1));
    const here = rebase(own, others.steps);
    const again = looking(checkInParts(...batch(others.doc, here, 'pencil'), passed));
    expect([whole.verdict, again.verdict]).toEqual([null, null]);
    expect(whole.looked).toBeGreaterThan(60);
    expect(again.looked).toBeLessThan(whole.looked / 20);
  });

  test('a change whose name somebody else has taken meanwhile is not let through', () => {
    const state = EditorState.create({ doc });
    const stamp = { ...theirs()(1), newChange: () => [...passed.marks][0]!.attrs.change as string };
    const others = record(state, state.tr.insertText('low ', 400), stamp);
    const here = rebase(own, others.steps);
    const again = looking(checkInParts(...batch(others.doc, here, 'pencil'), passed));
    expect(again.verdict).toBe('A change id is already in use.');
  });

  test('what was found right lets nothing else pass', () => {
    const state = EditorState.create({ doc });
    const forged = state.tr.insertText('X', 5);
    expect(looking(checkInParts(...batch(doc, forged, 'pencil'), passed)).verdict).toMatch(/without being recorded/);
    const another = EditorState.create({ doc: own.doc });
    const struck = another.tr.delete(5, 6).insert(30, schema.text('unrecorded'));
    expect(looking(checkInParts(...batch(own.doc, struck, 'pencil'), passed)).verdict).not.toBeNull();
  });
});
