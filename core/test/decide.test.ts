import fc from 'fast-check';
import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { decide, listChanges, sameManuscript, schema } from '../src/index.js';
import { recorded, someDocument, someEdit } from './support/editing.js';

const scripts = fc.array(someEdit(3), { minLength: 1, maxLength: 9 });

test('the steps of a decision lead from the text to what was decided, and back', () => {
  fc.assert(
    fc.property(someDocument, scripts, fc.boolean(), (doc, script, accept) => {
      const pending = recorded(doc, script);
      const tr = decide(new Transform(pending), 'all', accept ? 'accept' : 'reject');
      const again = tr.steps.reduce((now, step) => step.apply(now).doc!, pending);
      expect(again.eq(tr.doc)).toBe(true);
      expect(tr.docs).toHaveLength(tr.steps.length);
      const back = tr.steps.reduceRight((now, step, i) => step.invert(tr.docs[i]!).apply(now).doc!, tr.doc);
      expect(sameManuscript(back, pending)).toBe(true);
    }),
    { numRuns: 400 },
  );
});

test('the list of changes is the same however the text was come by', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) => {
      for (let n = 1; n <= script.length; n++) {
        const now = recorded(doc, script.slice(0, n));
        const list = listChanges(now);
        listChanges(doc); // another text in between
        expect(listChanges(Node.fromJSON(schema, JSON.parse(JSON.stringify(now))))).toEqual(list);
      }
    }),
    { numRuns: 200 },
  );
});
