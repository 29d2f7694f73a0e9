import { collate, knownAgain, listChanges, record, schema } from '../src/index.js';
import { EditorState, TextSelection } from 'prosemirror-state';
import { Node } from 'prosemirror-model';
import { documentOf } from './support/editing.js';

/** A text that comes back in a file: whose its changes are. */

const typed = (doc: Node, at: number, words: string, author: string, change: string): Node => {
  const state = EditorState.create({ doc });
  const tr = state.tr.setSelection(TextSelection.create(doc, at)).insertText(words);
  return record(state, tr, { author, date: '2026-11-02T09:00:00Z', newChange: () => change }).doc;
};
/** The same as a file says it: with people and changes of its own. */
const fromFile = (doc: Node, put = ''): Node =>
  Node.fromJSON(
    schema,
    JSON.parse(
      JSON.stringify(doc.toJSON())
        .replaceAll('"ines"', '"file-ines"')
        .replaceAll('"c1"', '"f1"')
        .replace('low tide ', `low tide ${put}`),
    ),
  );
const named = {
  looksLike: (person: string) => person.replace('file-', ''),
  is: (person: string) => person,
};
const stamp = () => {
  let n = 0;
  return { author: 'sender', date: '2026-11-03T09:00:00Z', newChange: () => `s${n++}` };
};

test('a change that went along is who made it’s, under its id', () => {
  const went = typed(documentOf('Walk at first.'), 9, 'low tide ', 'ines', 'c1');
  const came = knownAgain(fromFile(went), went, named);
  expect(listChanges(came).map(({ id, author }) => [id, author])).toEqual([['c1', 'ines']]);
  expect(collate(went, came, stamp(), 'kept').eq(went)).toBe(true);
});

test('what a file adds to somebody’s change, under their name and date, is not theirs', () => {
  const went = typed(documentOf('Walk at first.'), 9, 'low tide ', 'ines', 'c1');
  const came = knownAgain(fromFile(went, 'or never '), went, named);
  const laid = listChanges(collate(went, came, stamp(), 'kept'));
  expect(laid.filter(({ author }) => author === 'ines').map(({ id, after }) => [id, after])).toEqual([
    ['c1', 'low tide '],
  ]);
  expect(laid.filter(({ author }) => author === 'file-ines').map(({ after }) => after)).toEqual(['or never ']);
});
