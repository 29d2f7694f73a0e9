import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { EditorState, type Transaction } from 'prosemirror-state';
import { inSentence, listChanges, record, schema, type Piece } from '../src/index.js';
import { documentOf, footnote, image, recorded, someDocument, someEdit, stamps, table } from './support/editing.js';

/** Before and after, with what is set off between « and ». */
function said(doc: Node, i = 0): [before: string, after: string] {
  const { before, after } = inSentence(doc, listChanges(doc)[i]!);
  const words = (pieces: Piece[]) => pieces.map(({ text, changed }) => (changed ? `«${text}»` : text)).join('');
  return [words(before), words(after)];
}

type Act = (state: EditorState) => Transaction;

/** A text after acts of several people; each counts its places in what the one before has left. */
function after(doc: Node, ...acts: Act[]): Node {
  const stamp = stamps();
  return acts.reduce((now, act, by) => {
    const state = EditorState.create({ doc: now });
    return record(state, act(state), stamp(by)).doc;
  }, doc);
}

/** A text in which something stands already. */
const withInside = (text: string, at: number, what: Node) =>
  EditorState.create({ doc: documentOf(text) }).tr.insert(at, what).doc;

test.each<[string, Node, Act, string, string]>([
  ['a split', documentOf('crabs here'), (s) => s.tr.split(6), 'crabs«» here', 'crabs« ¶ » here'],
  ['a join', documentOf('crabs', 'here'), (s) => s.tr.join(7), 'crabs« ¶ »here', 'crabs«»here'],
  [
    'a picture by what it shows',
    documentOf('crabs here'),
    (s) => s.tr.insert(6, image('crab')),
    'crabs«» here',
    'crabs«[picture: crab]» here',
  ],
  [
    'another description of a picture',
    withInside('crabs here', 6, image('crab')),
    (s) => s.tr.setNodeAttribute(6, 'alt', 'a brown crab'),
    'crabs«[picture: crab]» here',
    'crabs«[picture: a brown crab]» here',
  ],
  [
    'a line break',
    documentOf('crabs here'),
    (s) => s.tr.insert(6, schema.nodes.line_break.create()),
    'crabs«» here',
    'crabs«[line break]» here',
  ],
  [
    'a footnote by what it says',
    documentOf('crabs here'),
    (s) => s.tr.insert(6, footnote('Not all.', 'Some.')),
    'crabs«» here',
    'crabs«[footnote: Not all. Some.]» here',
  ],
  [
    'words of a footnote, in the sentence of the footnote',
    withInside('crabs here', 6, footnote('Most are not. Some are here.')),
    (s) => s.tr.insertText('always ', 31),
    'Some are «»here.',
    'Some are «always »here.',
  ],
  [
    'words beside a footnote, which takes no room',
    withInside('crabs here', 6, footnote('Most are not. '.repeat(30))),
    (s) => s.tr.delete(s.doc.content.size - 5, s.doc.content.size - 1),
    'crabs «here»',
    'crabs «»',
  ],
  [
    'a table by its words',
    documentOf('crabs', 'here'),
    (s) => s.tr.insert(7, table(['a', 'b'], ['c', 'd'])),
    'crabs«»',
    'crabs« | a | b | c | d»',
  ],
])('%s is set off in its sentence', (_, doc, act, before, then) => {
  expect(said(after(doc, act))).toEqual([before, then]);
});

test('a long sentence is cut at words, with dots where it goes on', () => {
  const doc = after(documentOf('one two three four five '.repeat(20)), (s) => s.tr.insertText('NEW ', 241));
  const text = inSentence(doc, listChanges(doc)[0]!).after.map((piece) => piece.text);
  expect(text[0]).toMatch(/^…\S/);
  expect(text[2]).toMatch(/\S…$/);
  expect(text.join('').length).toBeLessThan(220);
});

test('a sentence goes on to its end though others changed words in it, which stand as if accepted', () => {
  const wet: Act = (s) => s.tr.delete(32, 36);
  const under: Act = (s) => s.tr.delete(22, 28);
  const brown: Act = (s) => s.tr.delete(5, 11);
  const doc = after(documentOf('The brown crabs wait under the wet stones. They hide.'), wet, under, brown);
  expect(said(doc, 0)).toEqual(['The «brown »crabs wait the stones.', 'The «»crabs wait the stones.']);
  expect(said(doc, 2)[0]).toBe('The crabs wait the «wet »stones.');
});

test('what two would delete is seen to go by either', () => {
  const wet: Act = (s) => s.tr.delete(5, 9);
  const doc = after(documentOf('The wet stones.'), wet, wet);
  const both = ['The «wet »stones.', 'The «»stones.'];
  expect([said(doc, 0), said(doc, 1)]).toEqual([both, both]);
});

test('law: every change is set off on both sides, and they differ unless it puts in what it takes out', () => {
  const scripts = fc.array(someEdit(3), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(someDocument, scripts, (begun, script) => {
      const doc = recorded(begun, script);
      listChanges(doc).forEach(({ kind, before, after }, i) => {
        const [was, now] = said(doc, i);
        expect([was, now]).toEqual([expect.stringMatching(/«/), expect.stringMatching(/«/)]);
        if (['insertion', 'deletion', 'replacement'].includes(kind) && before !== after) expect(was).not.toBe(now);
      });
    }),
    { numRuns: 400 },
  );
});
