import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';
import { splitBlock, joinBackward } from 'prosemirror-commands';
import {
  beforeReading,
  describeChange,
  fairReading,
  inSentence,
  ink,
  listChanges,
  plainText,
  record,
  schema,
} from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';

/** Someone at work in a document: each act is an ordinary edit, recorded in their name. */
function writer(doc: Node, author = 0, stampOf = stamps()) {
  let state = EditorState.create({ doc });
  const take = (tr: Transaction) => {
    state = state.apply(record(state, tr, stampOf(author)));
  };
  const acts = {
    select(from: number, to = from) {
      state = state.apply(state.tr.setSelection(TextSelection.create(state.doc, from, to)));
      return acts;
    },
    type(text: string) {
      for (const letter of text) take(state.tr.insertText(letter));
      return acts;
    },
    backspace(times = 1) {
      for (let i = 0; i < times; i++) {
        const { empty, from } = state.selection;
        if (empty) take(state.tr.delete(from - 1, from));
        else take(state.tr.deleteSelection());
      }
      return acts;
    },
    forwardDelete(times = 1) {
      for (let i = 0; i < times; i++) take(state.tr.delete(state.selection.from, state.selection.from + 1));
      return acts;
    },
    command(command: (s: EditorState, dispatch: (tr: Transaction) => void) => boolean) {
      command(state, (tr) => take(tr));
      return acts;
    },
    inInk(make: (s: EditorState) => Transaction) {
      state = state.apply(ink(state, make(state)));
      return acts;
    },
    get doc() {
      return state.doc;
    },
    get caret() {
      return state.selection.from;
    },
    changes: () => listChanges(state.doc).map(({ kind, before, after }) => [kind, before, after]),
  };
  return acts;
}

test('typing on continues the same change', () => {
  const w = writer(documentOf('ab')).select(2).type('xyz');
  expect(w.changes()).toEqual([['insertion', '', 'xyz']]);
  expect(plainText(w.doc)).toBe('axyzb');
});

test('three Backspaces are one deletion and leave the caret before it', () => {
  const w = writer(documentOf('abcdef')).select(5).backspace(3);
  expect(w.changes()).toEqual([['deletion', 'bcd', '']]);
  expect(w.caret).toBe(2);
});

test('deleting forwards moves on over what was deleted', () => {
  const w = writer(documentOf('abcdef')).select(2).forwardDelete(3);
  expect(w.changes()).toEqual([['deletion', 'bcd', '']]);
  expect(plainText(fairReading(w.doc))).toBe('aef');
});

test('typing over a selection makes one replacement, old words first, even if they begin alike', () => {
  const w = writer(documentOf('Look for mermaids purses here')).select(10, 25).type('mermaid’s purses');
  expect(w.changes()).toEqual([['replacement', 'mermaids purses', 'mermaid’s purses']]);
  expect(plainText(w.doc)).toBe('Look for mermaids pursesmermaid’s purses here');
});

test('deleting words backwards and typing others makes one replacement too', () => {
  const w = writer(documentOf('a kind of ledger')).select(10).backspace(9).type('the');
  expect(w.changes()).toEqual([['replacement', 'a kind of', 'the']]);
});

test('one’s own pending words really go', () => {
  const w = writer(documentOf('ab')).select(2).type('xyz').backspace(3);
  expect(w.changes()).toEqual([]);
  expect(plainText(w.doc)).toBe('ab');
});

test('somebody else’s pending words are only marked', () => {
  const stampOf = stamps();
  const ann = writer(documentOf('ab'), 0, stampOf).select(2).type('xy');
  const ben = writer(ann.doc, 1, stampOf).select(2, 4).backspace();
  expect(ben.changes()).toEqual([
    ['insertion', '', 'xy'],
    ['deletion', 'xy', ''],
  ]);
  expect(plainText(ben.doc)).toBe('axyb');
});

test('splitting and joining paragraphs are changes of a paragraph', () => {
  const split = writer(documentOf('abcd')).select(3).command(splitBlock);
  expect(split.changes()).toEqual([['paragraph', '', '\n']]);
  expect(plainText(beforeReading(split.doc))).toBe('abcd');
  const joined = writer(documentOf('ab', 'cd')).select(5).command(joinBackward);
  expect(joined.changes()).toEqual([['paragraph', '\n', '']]);
  expect(plainText(fairReading(joined.doc))).toBe('abcd');
  expect(describeChange(listChanges(joined.doc)[0]!)).toBe('joined two paragraphs');
});

test('ink goes straight in and leaves pending marks well-formed', () => {
  const w = writer(documentOf('ab')).select(2).type('xy');
  w.select(3).inInk((s) => s.tr.insertText('INK'));
  expect(w.changes()).toEqual([['insertion', '', 'xy']]);
  expect(plainText(beforeReading(w.doc))).toBe('aINKb');
});

test('a split in ink does not copy pending marks of the opening to both halves', () => {
  const w = writer(documentOf('abcd')).select(3).command(splitBlock).select(6);
  w.inInk((s) => {
    let made: Transaction | null = null;
    splitBlock(s, (tr) => (made = tr));
    return made!;
  });
  expect(w.doc.childCount).toBe(3);
  expect(w.doc.children.map((p) => p.marks.length)).toEqual([0, 1, 0]);
});

test('formatting is described in words', () => {
  const bold = schema.marks.bold!.create();
  const state = EditorState.create({ doc: documentOf('upper third') });
  const doc = record(state, state.tr.addMark(1, 6, bold), stamps()(0)).doc;
  const [change] = listChanges(doc);
  expect(change!.kind).toBe('formatting');
  expect(describeChange(change!)).toBe('now bold');
});

test('a change is shown in its sentence, with the difference set off', () => {
  const w = writer(documentOf('It was cold. Look for mermaids purses, the cases. They are dry.')).select(23, 38);
  w.type('eggs');
  const { before, after } = inSentence(w.doc, listChanges(w.doc)[0]!);
  expect(before).toEqual([
    { text: 'Look for ', changed: false },
    { text: 'mermaids purses', changed: true },
    { text: ', the cases.', changed: false },
  ]);
  expect(after[1]).toEqual({ text: 'eggs', changed: true });
});
