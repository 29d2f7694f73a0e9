import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  canonical,
  checkBatch,
  correct,
  decide,
  harmOf,
  listChanges,
  outright,
  rebase,
  record,
  withoutAuthor,
} from '../src/index.js';
import { authors, plainly, recorded, someDocument, someEdit, stamps, type Edit } from './support/editing.js';

/** Honest concurrency: what someone wrote in pencil while others wrote and decided is taken in, whatever they did. */

const me = authors[0]!;
const now = '2026-11-09T09:00:00Z';
const sender = { author: me, now, known: () => undefined };

/** The steps of a script, as its author's editor would hold them before the server has them. */
function write(doc: Node, script: readonly Edit[], stampOf: ReturnType<typeof stamps>): Transform {
  const all = new Transform(doc);
  for (const edit of script) {
    const made = plainly(all.doc, edit);
    if (!made) continue;
    const stamp = { ...stampOf(edit.by), apart: edit.kind === 'drag' };
    for (const step of record(made.state, made.tr, stamp).steps) all.step(step);
  }
  return all;
}

const wrong = (tr: Transform) => checkBatch(tr.before, tr.doc, tr.steps, tr.mapping, 'pencil', sender);

/** Edits of the first author, of any others, and by which share of the pending changes is decided meanwhile. */
const moment = fc.record({
  doc: someDocument,
  earlier: fc.array(someEdit(3), { maxLength: 5 }),
  mine: fc.array(someEdit(1), { minLength: 1, maxLength: 4 }),
  theirs: fc.array(
    someEdit(2).map((edit) => ({ ...edit, by: edit.by + 1 })),
    { maxLength: 3 },
  ),
  decided: fc.array(fc.constantFrom('accept' as const, 'reject' as const, null), { maxLength: 6 }),
});

test('whatever others write and decide meanwhile, a corrected batch is within the rules', () => {
  let corrected = 0;
  fc.assert(
    fc.property(moment, ({ doc, earlier, mine, theirs, decided }) => {
      const start = recorded(doc, earlier);
      const stampOf = stamps();
      const own = write(start, mine, (by) => ({ ...stampOf(by), newChange: () => `mine${stampOf(by).newChange()}` }));
      const others = write(start, theirs, (by) => ({
        ...stampOf(by),
        newChange: () => `their${stampOf(by).newChange()}`,
      }));
      const pending = listChanges(others.doc);
      decided.forEach((verdict, k) => verdict && pending[k] && decide(others, [pending[k]!.id], verdict));
      fc.pre(!harmOf(own.doc) && !harmOf(others.doc)); // or it is no editor's text
      const batch = rebase(own, others.steps);
      if (!wrong(batch)) return;
      corrected++;
      correct(batch, { author: me, date: now, newChange: () => 'mended' });
      batch.doc.check();
      const sent = wrong(batch) ? outright(batch) : batch;
      expect(canonical(sent.doc)).toEqual(canonical(batch.doc));
      if (wrong(sent)) throw new Error(`${wrong(sent)}\n ${batch.before}\n ${batch.doc}`);
      expect(canonical(withoutAuthor(batch.doc, me))).toEqual(canonical(withoutAuthor(others.doc, me)));
    }),
    { numRuns: Number(process.env.LAWS_RUNS ?? 700) },
  );
  expect(corrected).toBeGreaterThan(0); // or nothing was tried
});
