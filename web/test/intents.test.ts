import { EditorState, TextSelection } from 'prosemirror-state';
import { history, undo } from 'prosemirror-history';
import { fairReading, listChanges, plainText, schema } from '@tea-pencil/core';
import { deletionOf, inHand, intentOf, type Writer } from '../src/live/intents';

const doc = schema.nodes.doc!.create(null, schema.nodes.paragraph!.create(null, schema.text('the tide comes in')));
const begin = () => EditorState.create({ doc, plugins: [history()] });
const ann: Writer = { me: 'ann', hand: 'pencil', mayInk: true };

test('an edit goes in as the hand that is taken, and never in ink where ink is not allowed', () => {
  const state = begin();
  const edit = () => state.tr.insertText('low ', 5);
  const pencil = inHand(state, edit(), ann)!;
  const inked = inHand(state, edit(), { ...ann, hand: 'ink' })!;
  const forced = inHand(state, edit(), { ...ann, hand: 'ink', mayInk: false })!;
  expect([pencil, inked, forced].map(intentOf)).toEqual(['pencil', 'ink', 'pencil']);
  expect([pencil, inked, forced].map((tr) => listChanges(tr.doc).length)).toEqual([1, 0, 1]);
  expect(plainText(fairReading(pencil.doc))).toBe(plainText(inked.doc));
});

test('an undo goes as what it undoes', () => {
  for (const hand of ['pencil', 'ink'] as const) {
    const state = begin();
    const edited = state.apply(inHand(state, state.tr.delete(1, 5), { ...ann, hand })!);
    let undone = edited;
    let intent = '';
    undo(edited, (tr) => {
      const own = inHand(edited, tr, ann)!;
      intent = intentOf(own);
      undone = edited.apply(own);
    });
    expect([hand, intent, undone.doc.eq(doc)]).toEqual([hand, hand, true]);
  }
});

test('a deletion in pencil tells which change it adds to, so that three Backspaces are undone together', () => {
  let state = EditorState.create({ doc, selection: TextSelection.create(doc, 9) });
  const changes = [9, 8, 7].map((at) => {
    const tr = inHand(state, state.tr.delete(at - 1, at), ann)!;
    state = state.apply(tr);
    return deletionOf(tr);
  });
  expect(new Set(changes).size).toBe(1);
  expect(deletionOf(inHand(state, state.tr.insertText('x', 3), ann)!)).toBeNull();
});
