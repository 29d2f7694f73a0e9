import { EditorState, TextSelection } from 'prosemirror-state';
import {
  beforeReading,
  fairReading,
  keptSpaces,
  listChanges,
  plainText,
  record,
  removedWords,
  schema,
  spaceTrouble,
  tidyCome,
  tidyGone,
} from '../src/index.js';
import { documentOf, footnote, stamps } from './support/editing.js';

/** A text with some of its words selected. */
function selecting(text: string, words: string): EditorState {
  const from = text.indexOf(words) + 1;
  const doc = documentOf(...text.split('|'));
  return EditorState.create({ doc, selection: TextSelection.create(doc, from, from + words.length) });
}

/** Deletes words of a text in pencil, as someone who selects them would, and puts the spaces right. */
function without(text: string, words: string) {
  const stampOf = stamps();
  const before = selecting(text, words);
  const deleted = before.apply(record(before, before.tr.deleteSelection(), stampOf(0)));
  const tidy = tidyGone(removedWords(before), deleted.selection.from, deleted);
  const after = tidy ? deleted.apply(record(deleted, tidy, stampOf(0))) : deleted;
  expect(plainText(beforeReading(after.doc))).toBe(text);
  return { reads: plainText(fairReading(after.doc)), changes: listChanges(after.doc).length };
}

// Common practice, no published source.
test.each([
  ['one of two spaces goes', 'left behind it is a ledger', 'behind it', 'left is a ledger'],
  ['a space before a closing mark goes', 'twice a day, then', 'a day', 'twice, then'],
  ['a space at the end of the paragraph goes', 'early in the morning', 'in the morning', 'early'],
  ['a space at its start goes', 'Really cold mornings', 'Really', 'cold mornings'],
  ['where both spaces went, one comes back', 'left behind it is', ' behind it ', 'left is'],
  ['with one of its spaces a word goes cleanly', 'left behind it is', 'behind it ', 'left is'],
  ['half a word takes no space along', 'sandhoppers here', 'hoppers', 'sand here'],
  ['a mark takes none either', 'a day, then', ',', 'a day then'],
])('deleting: %s', (_, text, words, reads) => {
  expect(without(text, words)).toEqual({ reads, changes: 1 });
});

test.each([
  ['a space selected behind the word stays', 'a quiet shore', 'quiet ', 'still', 'a still shore'],
  ['a space selected before it stays', 'a quiet shore', ' quiet', 'still', 'a still shore'],
  ['one that comes along twice comes once', 'a quiet shore', 'quiet', 'still ', 'a still shore'],
  ['a whole sentence end is left alone', 'a quiet shore.', 'shore', 'sea', 'a quiet sea.'],
  ['half a word is left alone', 'sandhoppers here', 'hoppers ', 'banks', 'sandbankshere'],
  ['a mark typed over words is left alone', 'a quiet shore', 'quiet ', ',', 'a ,shore'],
])('replacing: %s', (_, text, words, by, reads) => {
  const state = selecting(text, words);
  const { doc } = record(state, keptSpaces(state, state.tr.insertText(by)), stamps()(0));
  expect(plainText(fairReading(doc))).toBe(reads);
  expect(plainText(beforeReading(doc))).toBe(text);
  expect(listChanges(doc)).toHaveLength(1);
});

test.each([
  ['a word set down between words is parted from both', 'oneshore', 3, 'more', 'one more shore'],
  ['one set down behind a space needs one behind it', 'one shore', 4, 'more', 'one more shore'],
  ['one before a closing mark needs none there', 'one.', 3, ' more', 'one more.'],
  ['a space too many goes', 'one shore', 4, 'more ', 'one more shore'],
  ['at the end of a paragraph none is left', 'one shore.', 10, ' More. ', 'one shore. More.'],
  ['nor at its start', 'one shore', 0, ' a ', 'a one shore'],
])('setting down: %s', (_, text, at, words, reads) => {
  const state = EditorState.create({ doc: documentOf(text) });
  const put = state.apply(state.tr.insertText(words, at + 1));
  const tidy = tidyCome(at + 1, at + 1 + words.length, put);
  expect(plainText((tidy ?? put).doc)).toBe(reads);
});

test('two changes that touch are told apart where deciding them differently would run words together or double a space', () => {
  const stampOf = stamps();
  // Ann takes a word out, and Ben the second of the two spaces that this leaves.
  let state = EditorState.create({ doc: documentOf('the quiet shore') });
  state = state.apply(record(state, state.tr.delete(5, 10), stampOf(0)));
  state = state.apply(record(state, state.tr.delete(10, 11), stampOf(1)));
  const changes = listChanges(state.doc);
  expect(plainText(fairReading(state.doc))).toBe('the shore');
  const found = changes.map((change) => spaceTrouble(state.doc, change, changes)!);
  expect(found.map(({ trouble, verdict }) => [trouble, verdict])).toEqual([
    ['doubled', 'accept'],
    ['missing', 'accept'],
  ]);
});

test('changes that do not touch, or leave the spaces alone, are no trouble', () => {
  const stampOf = stamps();
  let state = EditorState.create({ doc: documentOf('the quiet shore') });
  state = state.apply(record(state, state.tr.insertText('cold', 5, 10), stampOf(0)));
  state = state.apply(record(state, state.tr.insertText('!', state.doc.content.size - 1), stampOf(1)));
  const changes = listChanges(state.doc);
  expect(changes.map((change) => spaceTrouble(state.doc, change, changes))).toEqual([null, null]);
});

test('a footnote that is typed over is no run of words', () => {
  const noted = schema.nodes.paragraph!.create(null, [schema.text('a'), footnote(' aside ')]);
  const doc = schema.nodes.doc!.create(null, noted);
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, 2, doc.content.size - 1) });
  const tr = state.tr.insertText('b');
  expect(keptSpaces(state, tr)).toBe(tr);
});
