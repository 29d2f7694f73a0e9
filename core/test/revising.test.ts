import fc from 'fast-check';
import { Fragment, type Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  become,
  beside,
  canonical,
  changeIds,
  collate,
  fairReading,
  ink,
  isSound,
  merged,
  record,
  returned,
  revised,
  withoutAnchors,
  withoutAuthor,
} from '../src/index.js';
import { unmarked } from '../src/collating/pending.js';
import { resolve } from '../src/reading/readings.js';
import {
  plainly,
  recorded,
  someDocument,
  someEdit,
  someText,
  someTextEdit,
  stamps,
  type Edit,
} from './support/editing.js';

/** What is done with whole drafts: going back to one, bringing one in, laying two together. */

const runs = { numRuns: Number(process.env.COLLATED ?? 150) };
const edits = (most: number) => fc.array(someEdit(3), { maxLength: most });
const zoe = () => ({ ...stamps()(0), author: 'zoe', newChange: newId('zoe') });
function newId(name: string): () => string {
  let n = 0;
  return () => `${name}-${n++}`;
}
const inked = (doc: Node, script: readonly Edit[]): Node =>
  script.reduce((now, edit) => {
    const made = plainly(now, edit);
    return made ? ink(made.state, made.tr).doc : now;
  }, doc);
/** The same in pencil, with ids of its own. */
function recordedOn(doc: Node, script: readonly Edit[], name: string): Node {
  const newChange = newId(name);
  return script.reduce((now, edit) => {
    const made = plainly(now, edit);
    const stamp = { ...stamps()(edit.by), newChange, apart: edit.kind === 'drag' };
    return made ? record(made.state, made.tr, stamp).doc : now;
  }, doc);
}
/** A text in which much is pending, and another with more. */
const somePending = fc
  .tuple(someDocument, edits(6), edits(6))
  .map(([doc, script, more]): [Node, Edit[], Edit[]] => [doc, script, more]);

test('a text becomes another one, whatever is pending in both', () => {
  fc.assert(
    fc.property(somePending, someDocument, edits(4), ([doc, script, more], other, others) => {
      const [now, then] = [recorded(doc, [...script, ...more]), recorded(doc, script)];
      for (const target of [then, recorded(other, others)]) {
        const tr = become(new Transform(now), target);
        tr.doc.check();
        expect(canonical(tr.doc)).toEqual(canonical(withoutAnchors(target)));
      }
    }),
    runs,
  );
});

test('going back in pencil: others lose nothing, and it reads as it was', () => {
  fc.assert(
    fc.property(somePending, ([doc, script, more]) => {
      const [now, then] = [recorded(doc, [...script, ...more]), fairReading(recorded(doc, script))];
      const back = revised(now, then, zoe());
      back.check();
      expect(canonical(withoutAuthor(back, 'zoe'))).toEqual(canonical(withoutAuthor(now, 'zoe')));
      expect(canonical(fairReading(back))).toEqual(canonical(then));
    }),
    runs,
  );
});

/** A text with changes, which somebody had, worked on in pencil, and edited besides. */
const someRevision = somePending.map(([doc, script, more]) => {
  const [first, since] = [
    script.map((edit) => ({ ...edit, by: edit.by % 2 })),
    more.map((edit) => ({ ...edit, by: 2 })),
  ];
  return { before: recorded(doc, first), after: recorded(doc, [...first, ...since]) };
});

test('what was recorded stays as it was, what was not is recorded, and what was pending stays', () => {
  fc.assert(
    fc.property(someRevision, edits(3), ({ before, after: marked }, silent) => {
      const after = inked(marked, silent);
      const doc = collate(before, after, zoe(), 'kept');
      doc.check();
      const was = changeIds(before);
      const left = resolve(doc, (id) => (was.has(id) ? undefined : 'reject'));
      expect(canonical(left)).toEqual(canonical(withoutAuthor(before, 'zoe')));
      expect(canonical(fairReading(doc))).toEqual(canonical(fairReading(after)));
    }),
    runs,
  );
});

test('in text without tables nothing that was recorded comes in under another name', () => {
  const some = fc.tuple(
    someText,
    fc.array(someTextEdit(2), { maxLength: 5 }),
    fc.array(someTextEdit(1), { maxLength: 5 }),
  );
  fc.assert(
    fc.property(some, ([doc, script, more]) => {
      const since = more.map((edit) => ({ ...edit, by: 2 }));
      const [before, after] = [recorded(doc, script), recorded(doc, [...script, ...since])];
      const laid = collate(before, after, zoe(), 'kept');
      expect(canonical(laid)).toEqual(canonical(after));
    }),
    runs,
  );
});

const isSoundly = (doc: Node) => isSound(doc, '9999-01-01T00:00:00Z');
const asked = () => ({
  ours: { ...zoe(), author: 'ours', newChange: newId('o') },
  theirs: { ...zoe(), newChange: newId('t') },
});

/** A draft with changes by ann, and two revisions of it: in pencil by ben, and by cyd with something done in ink. */
const someRevisions = fc
  .tuple(someDocument, edits(4), edits(4), edits(4), edits(2))
  .map(([doc, script, one, other, silent]) => {
    const by = (list: Edit[], n: number) => list.map((edit) => ({ ...edit, by: n }));
    const draft = recorded(doc, by(script, 0));
    return {
      draft,
      ours: recordedOn(draft, by(one, 1), 'b'),
      theirs: inked(recordedOn(draft, by(other, 2), 'c'), silent),
    };
  });

test('two revisions of one draft: the changes of both, and neither loses any', () => {
  fc.assert(
    fc.property(someRevisions, ({ draft, ours, theirs }) => {
      fc.pre([ours, theirs].every(isSoundly)); // a footnote may have been dragged into itself
      const { doc } = merged(draft, ours, theirs, asked());
      expect(isSoundly(doc)).toBe(true);
      const onlyOurs = resolve(doc, (id) => (/^[ct]-/.test(id) ? 'reject' : undefined));
      expect(canonical(onlyOurs)).toEqual(canonical(withoutAuthor(collate(draft, ours, asked().ours, 'kept'), 'zoe')));
      expect(canonical(resolve(doc, (id) => (/^[bcto]-/.test(id) ? 'reject' : undefined)))).toEqual(
        canonical(withoutAuthor(draft, 'zoe')),
      );
    }),
    runs,
  );
});

test('what comes back of a draft: nothing that has come to the text meanwhile is lost', () => {
  fc.assert(
    fc.property(someRevisions, ({ draft, ours, theirs }) => {
      fc.pre([ours, theirs].every(isSoundly));
      const back = returned(ours, draft, theirs, zoe());
      expect(isSoundly(back.doc)).toBe(true);
      const before = resolve(back.doc, (id) => (/^(c|zoe)-/.test(id) ? 'reject' : undefined));
      expect(canonical(before)).toEqual(canonical(withoutAuthor(ours, 'zoe')));
      for (const { author } of back.unrecorded) expect(author).toBe('zoe');
      for (const { author } of back.recorded) expect(author).not.toBe('zoe');
    }),
    runs,
  );
});

test('what stands beside each other is the two texts', () => {
  fc.assert(
    fc.property(somePending, ([doc, script, more]) => {
      const [one, other] = [fairReading(recorded(doc, script)), fairReading(recorded(doc, [...script, ...more]))];
      const collated = collate(one, other, zoe());
      const rows = beside(collated);
      const sides = (side: 'before' | 'after') => doc.copy(Fragment.fromArray(rows.flatMap((row) => row[side])));
      expect(canonical(unmarked(sides('before')))).toEqual(canonical(one));
      expect(canonical(unmarked(sides('after')))).toEqual(canonical(other));
      expect(new Set(rows.flatMap(({ changes }) => changes))).toEqual(new Set(changeIds(collated).keys()));
    }),
    runs,
  );
});
