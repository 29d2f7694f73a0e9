import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { Mark, Node } from 'prosemirror-model';
import fc from 'fast-check';
import {
  changeIds,
  checkBatch,
  decide,
  ink,
  outright,
  record,
  sameManuscript,
  schema,
  type Intent,
  type Sender,
} from '../src/index.js';
import { authors, documentOf, plainly, recorded, someDocument, someEdit, stamps } from './support/editing.js';

const now = '2026-11-10T10:00:00Z';
const senderFor = (doc: Node, author: string): Sender => {
  const ids = changeIds(doc);
  return { author, now, known: (id) => ids.get(id) };
};
const check = (tr: Transaction, intent: Intent, author: string, doc = tr.before) =>
  checkBatch(doc, tr.doc, tr.steps, tr.mapping, intent, senderFor(doc, author));
const stateOf = (doc: Node) => EditorState.create({ doc });
const insertionBy = (author: string, change: string, date = now) =>
  schema.marks.insertion!.create({ change, author, date });

test('whatever is recorded honestly is taken in, pencil and ink', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { maxLength: 6 }), someEdit(3), (doc, script, edit) => {
      const marked = recorded(doc, script);
      const made = plainly(marked, edit);
      fc.pre(made !== null);
      const stamp = { ...stamps()(edit.by), newChange: () => 'fresh' };
      const sent = record(made!.state, made!.tr, stamp);
      expect(check(sent, 'pencil', authors[edit.by]!)).toBeNull();
      expect(check(ink(made!.state, made!.tr), 'ink', authors[edit.by]!)).toBeNull();
    }),
    { numRuns: 400 },
  );
});

describe('what is refused', () => {
  const doc = documentOf('the tide', 'comes in');
  const ben = (d = doc) => {
    const state = EditorState.create({ doc: d, selection: TextSelection.create(d, 4) });
    return record(state, state.tr.insertText(' low'), { author: 'ben', date: now, newChange: () => 'b1' }).doc;
  };
  const typed = (mark = insertionBy('ann', 'c1'), d = doc) => stateOf(d).tr.insert(3, schema.text('x', [mark]));

  test('an unrecorded edit sent as pencil', () => {
    expect(check(stateOf(doc).tr.insertText('x', 3), 'pencil', 'ann')).toMatch(/without being recorded/);
    expect(check(stateOf(doc).tr.delete(2, 4), 'pencil', 'ann')).toMatch(/without being recorded/);
    expect(check(stateOf(doc).tr.addMark(2, 4, schema.marks.bold!.create()), 'pencil', 'ann')).toMatch(
      /without being recorded/,
    );
  });
  test('a change in somebody else’s name', () => {
    expect(check(typed(insertionBy('ben', 'c1')), 'pencil', 'ann')).toMatch(/somebody else/);
  });
  test('words under another’s name in passing, be they taken out again or marked so afterwards', () => {
    const d = ben(); // “ low” is his, after “the”
    const [own, his] = [insertionBy('ann', 'c1'), insertionBy('ben', 'b1')];
    const put = (pos: number, words: string, mark = his) => stateOf(d).tr.insert(pos, schema.text(words, [mark]));
    for (const intent of ['pencil', 'ink'] as const) {
      expect(check(put(3, 'lie').delete(3, 6), intent, 'ann')).toMatch(/in passing/);
      expect(check(put(3, 'lie', own).addMark(3, 6, his).delete(3, 6), intent, 'ann')).toMatch(/in passing/);
      const note = schema.nodes.footnote!.create(
        { kind: 'foot' },
        schema.nodes.paragraph!.create(null, schema.text('lie')),
        [his],
      );
      expect(
        check(
          stateOf(d)
            .tr.insert(3, note)
            .delete(3, 3 + note.nodeSize),
          intent,
          'ann',
        ),
      ).toMatch(/in passing/);
      // His own words, taken out: they may come back where they stood and as they were, in pieces too.
      expect(
        check(
          stateOf(d)
            .tr.delete(4, 8)
            .insert(4, schema.text(' low', [his])),
          intent,
          'ann',
        ),
      ).toBeNull();
      const pieces = stateOf(d)
        .tr.delete(4, 8)
        .insert(4, schema.text(' w', [his]))
        .delete(4, 6);
      expect(check(pieces.insert(4, schema.text(' low', [his])), intent, 'ann')).toBeNull();
      // Whatever comes after them in the batch: own words that go before them, and that come.
      const long = intent === 'pencil' ? [own] : [];
      const held = stateOf(d).tr.insert(1, schema.text('x'.repeat(90), long)).doc;
      const restored = () =>
        stateOf(held)
          .tr.delete(94, 98)
          .insert(94, schema.text(' low', [his]));
      expect(check(restored().delete(1, 91), intent, 'ann')).toBeNull();
      expect(check(restored().insert(1, schema.text('y'.repeat(90), long)), intent, 'ann')).toBeNull();
      expect(
        check(
          stateOf(d)
            .tr.delete(4, 8)
            .insert(1, schema.text(' low', [his])),
          intent,
          'ann',
        ),
      ).not.toBeNull();
    }
  });
  test('what was said in passing, left out, leads to the same text and is taken', () => {
    const d = ben();
    const own = insertionBy('ann', 'c1');
    const lie = schema.text('lie', [insertionBy('ben', 'b1')]);
    const tr = stateOf(d)
      .tr.insert(3, lie)
      .insert(6, schema.text('true', [own]))
      .delete(3, 6);
    expect(check(tr, 'pencil', 'ann')).toMatch(/in passing/);
    const straight = outright(tr, 'ann');
    expect(sameManuscript(straight.doc, tr.doc)).toBe(true);
    expect(checkBatch(d, straight.doc, straight.steps, straight.mapping, 'pencil', senderFor(d, 'ann'))).toBeNull();
  });
  test('a date in the future, or long past, or none', () => {
    expect(check(typed(insertionBy('ann', 'c1', '2026-11-10T11:00:00Z')), 'pencil', 'ann')).toMatch(/future/);
    expect(check(typed(insertionBy('ann', 'c1', '2025-01-01T11:00:00Z')), 'pencil', 'ann')).toMatch(/too long ago/);
    expect(() => insertionBy('ann', 'c1', 'today')).toThrow(RangeError);
  });
  test('an id that belongs to somebody else', () => {
    expect(check(typed(insertionBy('ann', 'b1'), ben()), 'pencil', 'ann')).toMatch(/already in use/);
  });
  test('taking away, moving or settling other people’s marks', () => {
    const d = ben();
    expect(check(stateOf(d).tr.removeMark(0, 20, schema.marks.insertion), 'pencil', 'ann')).not.toBeNull();
    expect(check(decide(stateOf(d).tr, ['b1'], 'reject') as Transaction, 'pencil', 'ann')).not.toBeNull();
    expect(check(stateOf(d).tr.addMark(9, 12, insertionBy('ben', 'b1')), 'ink', 'ann')).toMatch(/bears no marks/);
  });
  test('a change that says something else than what has become of its words', () => {
    const restyled = (was: string, is: string) =>
      schema.marks.restyled!.create({
        change: 'c1',
        author: 'ann',
        date: now,
        order: 1,
        was: { style: was },
        now: { style: is },
      });
    const heading = stateOf(doc)
      .tr.setNodeAttribute(0, 'style', 'heading1')
      .addNodeMark(0, restyled('body', 'heading1'));
    expect(check(heading, 'pencil', 'ann')).toBeNull();
    const other = stateOf(heading.doc).tr.setNodeAttribute(0, 'style', 'quotation');
    expect(check(other, 'pencil', 'ann')).toMatch(/does not say/);
    const twice = stateOf(heading.doc).tr.addNodeMark(0, restyled('heading1', 'heading1'));
    expect(check(twice, 'pencil', 'ann')).toMatch(/does not say/);
  });
  test('two marks of one new change that contradict each other, on the same words or in two places', () => {
    const later = '2026-11-10T09:00:00Z';
    const put = (...marks: Mark[]) => stateOf(doc).tr.insert(3, schema.text('x', marks));
    const deletion = schema.marks.deletion!.create({ change: 'c1', author: 'ann', date: later });
    const note = schema.nodes.footnote!.create({ kind: 'foot' }, schema.nodes.paragraph!.create(), [
      insertionBy('ann', 'c1'),
      insertionBy('ann', 'c1', later),
    ]);
    for (const tr of [
      put(insertionBy('ann', 'c1'), insertionBy('ann', 'c1', later)),
      put(insertionBy('ann', 'c1'), deletion),
      stateOf(doc).tr.insert(3, note),
    ])
      expect(check(tr, 'pencil', 'ann')).toMatch(/already in use/);
    const apart = put(insertionBy('ann', 'c1')).insert(14, schema.text('y', [insertionBy('ann', 'c1', later)]));
    expect(check(apart, 'pencil', 'ann')).toMatch(/already in use/);
  });
  test('a new footnote whose first paragraph would be inserted or deleted', () => {
    const marked = schema.nodes.paragraph!.create(null, schema.text('note'), [
      schema.marks.openingDeleted!.create({ change: 'c1', author: 'ann', date: now }),
    ]);
    const note = schema.nodes.footnote!.create({ kind: 'foot' }, marked, [insertionBy('ann', 'c1')]);
    expect(check(stateOf(doc).tr.insert(3, note), 'pencil', 'ann')).toMatch(/first paragraph/);
  });
  test('a mark of a change on what no function reads it on', () => {
    const own = stateOf(doc).tr.split(5);
    own.addNodeMark(6, schema.marks.openingInserted!.create({ change: 'c1', author: 'ann', date: now }));
    expect(check(own, 'pencil', 'ann')).toBeNull();
    for (const type of ['insertion', 'deletion'] as const)
      expect(
        check(
          stateOf(own.doc).tr.addNodeMark(6, schema.marks[type]!.create({ change: 'c2', author: 'ann', date: now })),
          'pencil',
          'ann',
        ),
      ).toMatch(/means nothing there/);
  });
  test('a first paragraph that is inserted or deleted', () => {
    const mark = schema.marks.openingDeleted!.create({ change: 'c1', author: 'ann', date: now });
    expect(check(stateOf(doc).tr.addNodeMark(0, mark), 'pencil', 'ann')).toMatch(/first paragraph/);
  });
  test('fastening threads, or letting them loose, by editing', () => {
    const anchor = schema.marks.anchor!.create({ thread: 't' });
    const anchored = stateOf(doc).tr.addMark(1, 4, anchor).doc;
    for (const intent of ['pencil', 'ink'] as const) {
      expect(check(stateOf(doc).tr.addMark(1, 4, anchor), intent, 'ann')).toMatch(/anchors/);
      expect(check(stateOf(anchored).tr.removeMark(1, 4, anchor), intent, 'ann')).toMatch(/anchors/);
    }
  });
});
