import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  decide,
  endsOf,
  fairReading,
  listChanges,
  plainText,
  record,
  type Stamp,
} from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';

const text = 'Crabs walk sideways. |Worms do not.';

/** Takes the first paragraph's words and sets them down behind the second's, in two edits under one id. */
function moved() {
  const stamp: Stamp = { ...stamps()(0), apart: true };
  const id = stamp.newChange();
  const same: Stamp = { ...stamp, newChange: () => id };
  const before = EditorState.create({ doc: documentOf(...text.split('|')) });
  const cut = before.apply(record(before, before.tr.delete(1, 12), same));
  const end = cut.doc.content.size - 1;
  const state = cut.apply(record(cut, cut.tr.insertText('Crabs walk ', end), same));
  return { state, id };
}

const edited = (state: EditorState, make: (state: EditorState) => Transaction, by = 0): EditorState =>
  state.apply(record(state, make(state), { ...stamps()(by), newChange: () => `later${by}` }));
const shown = (state: EditorState) =>
  listChanges(state.doc).map(({ kind, before, after }) => [kind, before, after].join('|'));

test('words taken out in one place and set down in another are one change with two ends', () => {
  const { state } = moved();
  const [change, ...others] = listChanges(state.doc);
  expect(others).toEqual([]);
  expect(change).toMatchObject({ kind: 'move', before: 'Crabs walk ', after: 'Crabs walk ' });
  const ends = endsOf(state.doc, change!)!;
  const words = ({ from, to }: { from: number; to: number }) => state.doc.textBetween(from, to);
  expect([words(ends.from), words(ends.to)]).toEqual(['Crabs walk ', 'Crabs walk ']);
  expect(ends.from.from).toBeLessThan(ends.to.from);
});

test('deciding it decides both ends', () => {
  const { state, id } = moved();
  const after = (verdict: 'accept' | 'reject') => plainText(decide(new Transform(state.doc), [id], verdict).doc);
  expect(after('accept')).toBe('sideways. \nWorms do not.Crabs walk ');
  expect(after('reject')).toBe(text.replace('|', '\n'));
});

test('words edited within a moved passage are changes of their own, and it stays a move', () => {
  const { state } = moved();
  const at = state.doc.content.size - 1 - 'walk '.length;
  const typed = edited(state, (s) => s.tr.insertText('often ', at));
  const both = typed.apply(
    record(typed, typed.tr.delete(at - 'Crabs '.length, at - 1), { ...stamps()(0), newChange: () => 'gone' }),
  );
  expect(shown(both).sort()).toEqual(['deletion|Crabs|', 'insertion||often ', 'move|Crabs walk |Crabs walk ']);
  expect(plainText(fairReading(both.doc))).toBe('sideways. \nWorms do not. often walk ');
  expect(plainText(beforeReading(both.doc))).toBe(text.replace('|', '\n'));
});

test('typing beside either end of one’s own move does not become part of it', () => {
  const { state } = moved();
  const behind = edited(state, (s) => s.tr.insertText('Ha!', s.doc.content.size - 1));
  expect(shown(behind)).toEqual(['move|Crabs walk |Crabs walk ', 'insertion||Ha!']);
  const beside = edited(state, (s) => s.tr.insertText('They go ', 12));
  expect(shown(beside)).toEqual(['move|Crabs walk |Crabs walk ', 'insertion||They go ']);
});

test('a moved passage that its author takes away again is simply deleted where it stood', () => {
  const { state } = moved();
  const end = state.doc.content.size - 1;
  const gone = edited(state, (s) => s.tr.delete(end - 'Crabs walk '.length, end));
  expect(shown(gone)).toEqual(['deletion|Crabs walk |']);
  expect(plainText(beforeReading(gone.doc))).toBe(text.replace('|', '\n'));
});

test('what others do within a moved passage is theirs, in any order of decisions', () => {
  const { state, id } = moved();
  const end = state.doc.content.size - 1;
  const theirs = edited(state, (s) => s.tr.delete(end - 'walk '.length, end), 1);
  expect(shown(theirs)).toEqual(['move|Crabs walk |Crabs walk ', 'deletion|walk |']);
  const through = (ids: string[]) =>
    plainText(ids.reduce((tr, one) => decide(tr, [one], 'accept'), new Transform(theirs.doc)).doc);
  expect(through([id, 'later1'])).toBe('sideways. \nWorms do not.Crabs ');
  expect(through(['later1', id])).toBe('sideways. \nWorms do not.Crabs ');
});

test('dragging does both ends in one edit', () => {
  const doc = documentOf(...text.split('|'));
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, 1, 7) });
  const { tr } = state;
  const slice = doc.slice(1, 7);
  tr.deleteSelection();
  tr.replace(tr.doc.content.size - 1, tr.doc.content.size - 1, slice);
  const dragged = record(state, tr, { ...stamps()(0), apart: true }).doc;
  expect(listChanges(dragged).map(({ kind }) => kind)).toEqual(['move']);
});
