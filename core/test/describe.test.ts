import { EditorState, type Transaction } from 'prosemirror-state';
import { describeChange, describeProperty, inSentence, listChanges, record, schema } from '../src/index.js';
import { documentOf, stamps } from './support/editing.js';

const oneChange = (text: string, make: (state: EditorState) => Transaction) => {
  const state = EditorState.create({ doc: documentOf(...text.split('|')) });
  const { doc } = record(state, make(state), stamps()(0));
  return { doc, change: listChanges(doc)[0]! };
};
const marked = (name: string, attrs?: object) => (state: EditorState) =>
  state.tr.addMark(1, 6, schema.marks[name]!.create(attrs as never));
const styled = (name: string, value: unknown) => (state: EditorState) => state.tr.setNodeAttribute(0, name, value);

test.each<[string, string, (state: EditorState) => Transaction]>([
  ['inserted two words', 'crabs here', (s) => s.tr.insertText('and shrimps ', 7)],
  ['deleted one word', 'crabs here', (s) => s.tr.delete(1, 7)],
  ['replaced one word', 'crabs here', (s) => s.tr.insertText('shrimps', 1, 6)],
  ['deleted “,”', 'crabs, here', (s) => s.tr.delete(6, 7)],
  ['deleted a space', 'crabs  here', (s) => s.tr.delete(6, 7)],
  ['split a paragraph', 'crabs here', (s) => s.tr.split(6)],
  ['joined two paragraphs', 'crabs|here', (s) => s.tr.join(7)],
  ['now bold', 'crabs here', marked('bold')],
  ['now highlight tea', 'crabs here', marked('highlight', { value: 'tea' })],
  ['now superscript', 'crabs here', marked('script', { value: 'super' })],
  ['heading 2, was body text', 'crabs here', styled('style', 'heading2')],
  ['centred', 'crabs here', styled('align', 'center')],
  ['bulleted list, was no list', 'crabs here', styled('list', { kind: 'bullet', level: 0 })],
  ['indented', 'crabs here', styled('indent', 1)],
])('a change is described: %s', (words, text, make) => {
  expect(describeChange(oneChange(text, make).change)).toBe(words);
});

test.each<[string, unknown, unknown, string]>([
  ['bold', true, null, 'no longer bold'],
  ['link', null, 'https://harrow.example', 'now a link to https://harrow.example'],
  ['link', 'https://harrow.example', null, 'no longer a link'],
  ['list', { kind: 'number', level: 1 }, null, 'no longer a list'],
  ['list', null, { kind: 'number', level: 1 }, 'numbered list, level 2, was no list'],
  ['indent', 2, 1, 'less indented'],
  ['align', 'right', null, 'no longer right'],
])('a property is described: %s', (name, was, now, words) => {
  expect(describeProperty(name, was, now)).toBe(words);
});

test('a split and a join are shown with the sign of the break', () => {
  const split = oneChange('crabs here', (s) => s.tr.split(6));
  expect(
    inSentence(split.doc, split.change)
      .after.map(({ text }) => text)
      .join(''),
  ).toContain('¶');
  expect(
    inSentence(split.doc, split.change)
      .before.map(({ text }) => text)
      .join(''),
  ).toBe('crabs here');
});

test('a long sentence is cut at words, with dots where it goes on', () => {
  const long = 'one two three four five '.repeat(20);
  const { doc, change } = oneChange(long, (s) => s.tr.insertText('NEW ', 241));
  const text = inSentence(doc, change).after.map((piece) => piece.text);
  expect(text[0]).toMatch(/^…\S/);
  expect(text[2]).toMatch(/\S…$/);
  expect(text.join('').length).toBeLessThan(220);
});
