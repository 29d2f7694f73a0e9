import { EditorState, type Transaction } from 'prosemirror-state';
import { describeChange, describeProperty, listChanges, record, schema } from '../src/index.js';
import { documentOf, footnote, image, stamps, table } from './support/editing.js';

const oneChange = (text: string, make: (state: EditorState) => Transaction) => {
  const state = EditorState.create({ doc: documentOf(...text.split('|')) });
  const { doc } = record(state, make(state), stamps()(0));
  return { doc, change: listChanges(doc)[0]! };
};
const paragraphWith = (text: string, mark: string) =>
  schema.nodes.paragraph!.create(null, schema.text(text, [schema.marks[mark]!.create()]));
const marked = (name: string, attrs?: object) => (state: EditorState) =>
  state.tr.addMark(1, 6, schema.marks[name]!.create(attrs as never));
const styled = (name: string, value: unknown) => (state: EditorState) => state.tr.setNodeAttribute(0, name, value);

test.each<[string, string, (state: EditorState) => Transaction]>([
  ['inserted two words', 'crabs here', (s) => s.tr.insertText('and shrimps ', 7)],
  ['deleted one word', 'crabs here', (s) => s.tr.delete(1, 7)],
  ['replaced one word', 'crabs here', (s) => s.tr.insertText('shrimps', 1, 6)],
  ['deleted “,”', 'crabs, here', (s) => s.tr.delete(6, 7)],
  ['deleted a space', 'crabs  here', (s) => s.tr.delete(6, 7)],
  ['deleted two spaces', 'crabs   here', (s) => s.tr.delete(6, 8)],
  ['inserted a soft hyphen', 'crabs here', (s) => s.tr.insertText('\u00ad', 3)],
  ['deleted an en space', 'crabs\u2002here', (s) => s.tr.delete(6, 7)],
  ['inserted a tab', 'crabs here', (s) => s.tr.insertText('\t', 1)],
  ['inserted three spaces', 'crabs here', (s) => s.tr.insertText(' \u00a0 ', 6)],
  ['replaced a space by a no-break space', 'crabs here', (s) => s.tr.insertText('\u00a0', 6, 7)],
  ['split a paragraph', 'crabs here', (s) => s.tr.split(6)],
  ['joined two paragraphs', 'crabs|here', (s) => s.tr.join(7)],
  ['now bold', 'crabs here', marked('bold')],
  ['now highlighted tea', 'crabs here', marked('highlight', { value: 'tea' })],
  ['now superscript', 'crabs here', marked('script', { value: 'super' })],
  ['heading 2, was body text', 'crabs here', styled('style', 'heading2')],
  ['centred', 'crabs here', styled('align', 'center')],
  ['bulleted list, was no list', 'crabs here', styled('list', { kind: 'bullet', level: 0 })],
  ['indented', 'crabs here', styled('indent', 1)],
  ['inserted a picture', 'crabs here', (s) => s.tr.insert(6, image('one'))],
  ['inserted two pictures', 'crabs here', (s) => s.tr.insert(6, [image('one'), image('two')])],
  [
    'inserted a picture and a line break',
    'crabs here',
    (s) => s.tr.insert(6, [image('one'), schema.nodes.line_break!.create()]),
  ],
  ['inserted a footnote', 'crabs here', (s) => s.tr.insert(6, footnote('not all of them'))],
  [
    'inserted two words and a footnote',
    'crabs here',
    (s) => s.tr.insert(6, [schema.text(' and shrimps'), footnote('not all of them')]),
  ],
  [
    'inserted two words and two footnotes',
    'crabs here',
    (s) => s.tr.insert(6, [footnote('one'), schema.text(' and shrimps'), footnote('not all of them')]),
  ],
  ['replaced one word', 'crabs here', (s) => s.tr.replaceWith(1, 6, [schema.text('shrimps'), footnote('a few')])],
  ['inserted a line break', 'crabs here', (s) => s.tr.insert(6, schema.nodes.line_break!.create())],
  ['inserted a table of 1 by 2', 'crabs|here', (s) => s.tr.insert(7, table(['a', 'b']))],
])('a change is described: %s', (words, text, make) => {
  expect(describeChange(oneChange(text, make).change)).toBe(words);
});

test.each<[string, unknown, unknown, string]>([
  ['bold', true, null, 'no longer bold'],
  ['link', null, 'https://harrow.example', 'now a link to https://harrow.example'],
  ['link', 'https://harrow.example', null, 'no longer a link'],
  ['list', { kind: 'number', level: 1 }, null, 'no longer a list'],
  ['list', null, { kind: 'number', level: 1 }, 'numbered list, level 2, was no list'],
  ['list', { kind: 'bullet', level: 1 }, { kind: 'bullet', level: 0 }, 'list level 1, was level 2'],
  [
    'list',
    { kind: 'bullet', level: 1 },
    { kind: 'number', level: 1 },
    'numbered list, level 2, was bulleted list, level 2',
  ],
  ['indent', 2, 1, 'less indented'],
  ['align', 'right', null, 'no longer right'],
  ['alt', '', 'a brown crab', 'described as “a brown crab”'],
  ['asset', 'one', 'two', 'another picture'],
  ['colour', null, 'plum', 'coloured plum'],
  ['highlight', 'tea', null, 'no longer highlighted'],
  ['size', null, 14, '14 points'],
  ['header', false, true, 'header cell'],
])('a property is described: %s', (name, was, now, words) => {
  expect(describeProperty(name, was, now)).toBe(words);
});

test('several properties of one change are told in one sentence', () => {
  const state = EditorState.create({ doc: schema.nodes.doc!.create(null, paragraphWith('crabs', 'italic')) });
  const tr = state.tr.removeMark(1, 6, schema.marks.italic!).addMark(1, 6, schema.marks.bold!.create());
  const [change] = listChanges(record(state, tr, stamps()(0)).doc);
  expect(describeChange(change!)).toBe('now bold, no longer italic');
});

test('a picture that is given another size is resized', () => {
  const state = EditorState.create({
    doc: schema.nodes.doc!.create(null, schema.nodes.paragraph!.create(null, image('one'))),
  });
  const tr = state.tr.setNodeAttribute(1, 'width', 300).setNodeAttribute(1, 'height', 200);
  const { doc } = record(state, tr, stamps()(0));
  expect(describeChange(listChanges(doc)[0]!)).toBe('resized');
});
