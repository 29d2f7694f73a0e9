import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import { closeHistory, history, redo, undo } from 'prosemirror-history';
import { canonical, checkBatch, decide, fairReading, listChanges, plainText, record, schema } from '@tea-pencil/core';
import { deletionOf, inHand, intentOf, changeOf, tidied, type Writer } from '../src/live/intents';

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

/** A text with words of its first paragraph selected. */
const selecting = (words: string, ...lines: string[]) => {
  const content = lines.map((line) => schema.nodes.paragraph!.create(null, schema.text(line)));
  const two = schema.nodes.doc!.create(null, content);
  const from = lines[0]!.indexOf(words) + 1;
  return EditorState.create({ doc: two, selection: TextSelection.create(two, from, from + words.length) });
};
const applied = (state: EditorState, plain: Transaction, writer: Writer = ann) => {
  const own = inHand(state, plain, writer)!;
  let after = state.apply(own);
  const tidy = tidied(state, plain, own, after);
  if (tidy) after = after.apply(inHand(after, tidy, writer)!);
  return { after, own };
};
const kinds = (state: EditorState) => listChanges(state.doc).map(({ kind }) => kind);
const fair = (state: EditorState) => plainText(fairReading(state.doc));

test('what is cut and pasted elsewhere is one move, and its spaces are put right as part of it', () => {
  const state = selecting('low ', 'the low tide', 'and spring');
  const cut = applied(state, state.tr.deleteSelection().setMeta('uiEvent', 'cut'));
  const end = cut.after.doc.content.size - 1;
  const there = cut.after.apply(cut.after.tr.setSelection(TextSelection.create(cut.after.doc, end)));
  const paste = there.tr.replaceSelection(state.selection.content()).setMeta('uiEvent', 'paste');
  const pasted = applied(there, paste, { ...ann, cut: changeOf(cut.own) });
  expect(kinds(pasted.after)).toEqual(['move']);
  expect(fair(pasted.after)).toBe('the tide\nand spring low');
});

test('pasting something else, or the same once more, is no move', () => {
  const state = selecting('low ', 'the low tide', 'and spring');
  const cut = applied(state, state.tr.deleteSelection().setMeta('uiEvent', 'cut'));
  const writer = { ...ann, cut: changeOf(cut.own) };
  const paste = (on: EditorState, text: string) => {
    const end = on.doc.content.size - 1;
    return applied(on, on.tr.insertText(text, end).setMeta('uiEvent', 'paste'), writer).after;
  };
  expect(kinds(paste(cut.after, ' high'))).toEqual(['deletion', 'insertion']);
  const once = paste(cut.after, ' low');
  expect(kinds(once)).toEqual(['move']);
  const more = once.apply(once.tr.setSelection(TextSelection.create(once.doc, once.doc.content.size - 4)));
  const twice = applied(more, more.tr.insertText('low ').setMeta('uiEvent', 'paste'), writer).after;
  expect(kinds(twice).sort()).toEqual(['insertion', 'move']);
});

test('what is dragged is one move', () => {
  const state = selecting('low ', 'the low tide', 'and spring');
  const slice = state.selection.content();
  const drop = state.tr.deleteSelection();
  drop.replaceRange(drop.doc.content.size - 1, drop.doc.content.size - 1, slice);
  drop.setSelection(TextSelection.create(drop.doc, drop.doc.content.size - 5, drop.doc.content.size - 1));
  const { after } = applied(state, drop.setMeta('uiEvent', 'drop'));
  expect(kinds(after)).toEqual(['move']);
  expect(fair(after)).toBe('the tide\nand spring low');
});

test('in ink nothing is a move, and no space is touched', () => {
  const state = selecting('low', 'the low tide', 'and spring');
  const { after } = applied(state, state.tr.deleteSelection().setMeta('uiEvent', 'cut'), { ...ann, hand: 'ink' });
  expect([kinds(after), fair(after)]).toEqual([[], 'the  tide\nand spring']);
});

test('undoing in ink the removal of somebody else’s pending words brings them back as one’s own, and says nothing in passing', () => {
  const inker: Writer = { ...ann, hand: 'ink' };
  const first = begin();
  const ben = record(first, first.tr.insertText('low ', 5), {
    author: 'ben',
    date: '2026-11-10T10:00:00Z',
    newChange: () => 'b1',
  });
  let state = first.apply(ben.setMeta('addToHistory', false).setMeta('remote', true));
  state = state.apply(inHand(state, state.tr.delete(5, 9), inker)!);
  expect(plainText(state.doc)).toBe('the tide comes in');
  let sent: Transaction | null = null as Transaction | null;
  const doing = (tr: Transaction) => {
    sent = inHand(state, tr, inker);
    if (sent) state = state.apply(sent);
  };
  const before = state;
  undo(state, doing);
  expect(plainText(fairReading(state.doc))).toBe('the low tide comes in');
  expect(listChanges(state.doc).map(({ author, after }) => [author, after])).toEqual([['ann', 'low ']]);
  const tr = sent!;
  expect(
    checkBatch(before.doc, tr.doc, tr.steps, tr.mapping, intentOf(tr), {
      author: 'ann',
      now: new Date().toISOString(),
      known: () => undefined,
    }),
  ).toBeNull();
  redo(state, doing);
  expect(plainText(fairReading(state.doc))).toBe('the tide comes in');
  undo(state, doing);
  expect(plainText(fairReading(state.doc))).toBe('the low tide comes in');
});

test('what was undone across a decision of somebody else, and brought within the rules, is done again as it was', () => {
  let state = begin();
  const doing = (tr: Transaction) => {
    const own = inHand(state, tr, { ...ann, mayInk: false });
    if (own) state = state.apply(own);
  };
  doing(state.tr.insertText('low ', 5));
  doing(closeHistory(state.tr.insertText('!', state.doc.content.size - 1)));
  const [first] = listChanges(state.doc);
  const decided = decide(state.tr, [first!.id], 'accept') as Transaction;
  state = state.apply(decided.setMeta('addToHistory', false).setMeta('remote', true));
  const before = state.doc;
  for (let i = 0; i < 2; i++) undo(state, doing);
  // What has been accepted is not taken away but struck out; what was not goes.
  expect([plainText(state.doc), plainText(fairReading(state.doc))]).toEqual([
    'the low tide comes in',
    'the tide comes in',
  ]);
  const undone = state.doc;
  for (let i = 0; i < 2; i++) redo(state, doing);
  expect(canonical(state.doc)).toEqual(canonical(before));
  for (let i = 0; i < 2; i++) undo(state, doing);
  expect(plainText(state.doc)).toBe(plainText(undone));
  for (let i = 0; i < 2; i++) redo(state, doing);
  expect(canonical(state.doc)).toEqual(canonical(before));
});
