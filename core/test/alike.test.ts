import { EditorState } from 'prosemirror-state';
import { alikeTo, changesIn, listChanges, paragraphAround, record, sentenceAround } from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';

/** A text in which each of the words is replaced wherever it stands, by one author after the other. */
function replaced(texts: string[], edits: [word: string, by: string, author: number][]) {
  const stampOf = stamps();
  let state = EditorState.create({ doc: documentOf(...texts) });
  for (const [word, by, author] of edits) {
    const found: number[] = [];
    state.doc.descendants((node, pos) => {
      if (!node.isText || node.marks.length) return;
      for (const match of node.text!.matchAll(new RegExp(word, 'g'))) found.push(pos + match.index);
    });
    for (const at of found.reverse()) {
      const tr = state.tr.insertText(by, at, at + word.length);
      state = EditorState.create({ doc: record(state, tr, stampOf(author)).doc });
    }
  }
  return { doc: state.doc, changes: listChanges(state.doc) };
}

test('the same edit by the same author elsewhere is alike; by another author, or other words, it is not', () => {
  const texts = ['mermaids here. A skate', 'mermaids there', 'all mermaids'];
  const { changes } = replaced(texts, [
    ['mermaids', 'mermaid’s', 0],
    ['skate', 'ray', 0],
    ['there', 'yonder', 1],
  ]);
  const of = (before: string) => changes.filter((change) => change.before === before);
  expect(of('mermaids')).toHaveLength(3);
  expect(alikeTo(of('mermaids')[0]!, changes).map(({ id }) => id)).toEqual(
    of('mermaids')
      .slice(1)
      .map(({ id }) => id),
  );
  expect(alikeTo(of('skate')[0]!, changes)).toEqual([]);
});

test('what stands in one sentence or paragraph is found together', () => {
  const { doc, changes } = replaced(
    ['One crab. Two crab, one eel. End', 'Last crab'],
    [
      ['crab', 'shrimp', 0],
      ['eel', 'ling', 1],
    ],
  );
  const second = changes[1]!;
  const words = (range: { from: number; to: number }) =>
    changesIn(range, changes).map(({ before, whereabouts }) => `${before} ${whereabouts.paragraph}`);
  expect(words(sentenceAround(doc, second))).toEqual(['crab 1', 'eel 1']);
  expect(words(paragraphAround(doc, second))).toEqual(['crab 1', 'crab 1', 'eel 1']);
  expect(changes.map(({ whereabouts }) => whereabouts.paragraph)).toEqual([1, 1, 1, 2]);
});
