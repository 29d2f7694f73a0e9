import { listChanges, outline, record, schema } from '../src/index.js';
import type { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { paragraph, stamps } from './support/editing.js';

const doc = schema.nodes.doc!.create(null, [
  paragraph('The shore', 'title'),
  paragraph('first words'),
  paragraph('Low water', 'heading1'),
  paragraph('Where to walk', 'heading2'),
  paragraph('walk here'),
  paragraph('Nets', 'heading1'),
  paragraph('Where to walk', 'heading2'),
  paragraph('walk there'),
]);

test('headings stand under those of a higher level; the same words again are told apart', () => {
  expect(outline(doc).map(({ key, level, section }) => [key, level, section.join(' / ')])).toEqual([
    ['The shore', 0, 'The shore'],
    ['Low water', 1, 'The shore / Low water'],
    ['Where to walk', 2, 'The shore / Low water / Where to walk'],
    ['Nets', 1, 'The shore / Nets'],
    ['Where to walk (2)', 2, 'The shore / Nets / Where to walk (2)'],
  ]);
  for (const { at, text } of outline(doc)) expect(doc.nodeAt(at)!.textContent).toBe(text);
});

test('a change knows the headings it stands under, as they read when all is accepted', () => {
  const stampOf = stamps();
  const heading = outline(doc)[3]!.at;
  const insert = (before: Node, words: string, at: number, author: number) => {
    const state = EditorState.create({ doc: before });
    return record(state, state.tr.insertText(words, at), stampOf(author)).doc;
  };
  const now = insert(insert(doc, 'old ', heading + 1, 0), 'quickly ', doc.content.size + 4 - 1, 1);
  const [, last] = listChanges(now);
  expect(last!.whereabouts.section).toEqual(['The shore', 'old Nets', 'Where to walk (2)']);
  expect(last!.whereabouts.heading).toBe('Where to walk (2)');
});
