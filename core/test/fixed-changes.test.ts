import fc from 'fast-check';
import { EditorState, TextSelection } from 'prosemirror-state';
import {
  changeIds,
  checkBatch,
  fairReading,
  fixedBy,
  harmOf,
  isFixed,
  listChanges,
  plainText,
  record,
  sameManuscript,
  schema,
} from '../src/index.js';
import { authors, documentOf, plainly, recorded, someText, someTextEdit } from './support/editing.js';

/** Under a seal that forbids withdrawing, what has been proposed stays: its author too adds to it only by new changes. */

const now = '2026-11-10T10:00:00Z';
/** After the date of all that stands in the texts, before that of what is recorded here. */
const fixedUntil = '2026-11-09T00:00:00Z';
const stampFor = (author: string) => ({ author, date: now, newChange: () => 'fresh', fixedUntil });

test('whatever is done to paragraphs in pencil, every change that was fixed is left as it was, and the server takes it in', () => {
  let struck = 0;
  fc.assert(
    fc.property(someText, fc.array(someTextEdit(2), { maxLength: 6 }), someTextEdit(2), (doc, script, edit) => {
      const marked = recorded(doc, script);
      const made = plainly(marked, edit);
      fc.pre(made !== null);
      const author = authors[edit.by]!;
      const sent = record(made!.state, made!.tr, stampFor(author));
      const ids = changeIds(marked);
      const sender = { author, now, known: (id: string) => ids.get(id), fixedUntil };
      expect(checkBatch(marked, sent.doc, sent.steps, sent.mapping, 'pencil', sender)).toBeNull();
      for (const id of ids.keys()) expect([id, changeIds(sent.doc).has(id)]).toEqual([id, true]);
      expect(harmOf(sent.doc)).toBeNull();
      // Law 2 holds as ever: the fair reading is that of the edit as it would be without the seal.
      const free = record(made!.state, made!.tr, { ...stampFor(author), fixedUntil: '' });
      if (!free.doc.eq(sent.doc)) struck++;
      if (plainText(fairReading(free.doc)) === plainText(fairReading(made!.tr.doc)))
        expect(sameManuscript(fairReading(sent.doc), fairReading(free.doc))).toBe(true);
    }),
    { numRuns: 400 },
  );
  expect(struck).toBeGreaterThan(20);
});

test('one’s own words of before the seal are struck out and not removed; those of after it go', () => {
  const write = (doc = documentOf('the tide'), stamp: object = {}) => {
    const state = EditorState.create({ doc, selection: TextSelection.create(doc, 4) });
    return record(state, state.tr.insertText(' low'), { ...stampFor('ann'), date: '2026-11-01T09:00:00Z', ...stamp })
      .doc;
  };
  const doc = write();
  const remove = EditorState.create({ doc }).tr.delete(4, 8);
  const kept = record(EditorState.create({ doc }), remove, { ...stampFor('ann'), newChange: () => 'later' });
  expect(listChanges(kept.doc).map(({ id, kind }) => [id, kind])).toEqual([
    ['fresh', 'insertion'],
    ['later', 'deletion'],
  ]);
  const ids = changeIds(doc);
  const sender = { author: 'ann', now, known: (id: string) => ids.get(id) };
  const check = (until?: string) =>
    checkBatch(doc, remove.doc, remove.steps, remove.mapping, 'pencil', {
      ...sender,
      ...(until && { fixedUntil: until }),
    });
  expect(check()).toBeNull();
  expect(check(fixedUntil)).toMatch(/stays as it is until the seal is lifted/);
  expect(check('2026-10-01T00:00:00Z')).toBeNull();
});

test('a clock that is ahead does not keep a change out of the seal', () => {
  const sealed = new Date('2026-11-10T10:00:00Z');
  const mark = (date: string) => schema.marks.insertion.create({ change: 'c', author: 'ann', date });
  expect(isFixed(mark('2026-11-10T10:01:59Z'), fixedBy(sealed))).toBe(true);
  expect(isFixed(mark('2026-11-10T10:02:01Z'), fixedBy(sealed))).toBe(false);
  expect(isFixed(mark('2026-11-10T09:00:00Z'), undefined)).toBe(false);
});
