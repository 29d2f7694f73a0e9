import { EditorState, TextSelection } from 'prosemirror-state';
import { beforeReading, fairReading, listChanges, plainText, record, tidySpaces } from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';

/** Deletes words of a text in pencil, as someone who selects them would, and puts the spaces right. */
function without(text: string, words: string) {
  const from = text.indexOf(words) + 1;
  const stampOf = stamps();
  const doc = documentOf(text);
  const before = EditorState.create({ doc, selection: TextSelection.create(doc, from, from + words.length) });
  const tr = before.tr.deleteSelection();
  const deleted = before.apply(record(before, tr, stampOf(0)));
  const tidy = tidySpaces(before, tr, deleted);
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
])('%s', (_, text, words, reads) => {
  expect(without(text, words)).toEqual({ reads, changes: 1 });
});
