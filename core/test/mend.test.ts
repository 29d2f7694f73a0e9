import fc from 'fast-check';
import { listChanges, mend, plainText, record, schema } from '../src/index.js';
import { EditorState } from 'prosemirror-state';
import { documentOf, recorded, someDocument, someEdit, stamps } from './support/editing.js';

const now = '2026-11-10T10:00:00Z';
const seal = (change: string, author = 'ann', date = '2026-11-01T09:00:00Z') => ({ change, author, date });
const text = (words: string, ...marks: object[]) => ({ type: 'text', text: words, marks });
const mark = (type: string, attrs: object) => ({ type, attrs });
const paragraph = (...content: object[]) => ({ type: 'paragraph', content });
const doc = (...content: object[]) => ({ type: 'doc', content });
const said = (json: unknown) => {
  const { doc: mended, mends } = mend(json, now);
  return { text: plainText(mended), mends: mends.map(({ what }) => what), doc: mended };
};

test('a sound document comes back as it is, and nothing is said', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { maxLength: 6 }), (before, script) => {
      const sound = recorded(before, script);
      const { doc: mended, mends } = mend(JSON.parse(JSON.stringify(sound)), '2026-12-01T00:00:00Z');
      expect(mended.eq(sound)).toBe(true);
      expect(mends).toEqual([]);
    }),
    { numRuns: 300 },
  );
});

test('no letter is dropped, whatever stands where', () => {
  const someJson = fc.letrec((tie) => ({
    node: fc.record({
      type: fc.constantFrom(...Object.keys(schema.nodes), 'chapter', 'poem', 7),
      content: fc.oneof({ depthSize: 'small' }, fc.constant(undefined), fc.array(tie('node'), { maxLength: 3 })),
      attrs: fc.constantFrom(undefined, { style: 'poem' }, { list: { kind: 'bullet', level: 99 } }, { indent: 2 }),
      marks: fc.constantFrom(undefined, [mark('bold', {})], [mark('insertion', { change: 'a' })], [mark('odd', {})]),
    }),
  })).node;
  fc.assert(
    fc.property(fc.array(someJson, { maxLength: 4 }), (content) => {
      const { doc: mended } = mend(doc(...(content as object[])), now);
      mended.check();
    }),
    { numRuns: 500 },
  );
  const nested = doc({ type: 'chapter', content: [paragraph(text('a')), text('b'), { type: 'poem', text: 'c' }] });
  expect(said(nested).text.replace(/\n/g, '')).toBe('abc');
});

test('what is no document at all is an empty one', () => {
  for (const json of [null, 7, 'text', {}, { content: 'x' }]) expect(said(json).text).toBe('');
});

test('a value that there is none is taken as not said, and marks that cannot be read are left out', () => {
  const broken = doc({
    type: 'paragraph',
    attrs: { style: 'poem', indent: 3 },
    content: [text('tide', mark('insertion', { change: 'c1' }), mark('glow', {}), mark('bold', {}))],
  });
  const { doc: mended, mends } = said(broken);
  expect(mended.firstChild!.attrs).toMatchObject({ style: 'body', indent: 3 });
  expect(mended.firstChild!.firstChild!.marks.map(({ type }) => type.name)).toEqual(['bold']);
  expect(mends).toEqual([
    'a value of style that there is none, taken as not said',
    'a mark of a change that cannot be read, left out',
    'a property of words, left out',
  ]);
});

test('one change in the names of two people becomes two', () => {
  const shared = doc(
    paragraph(text('a', mark('insertion', seal('c1'))), text('b'), text('c', mark('deletion', seal('c1', 'ben')))),
  );
  const { doc: mended, mends } = said(shared);
  expect(listChanges(mended).map(({ kind, author }) => [kind, author])).toEqual([
    ['insertion', 'ann'],
    ['deletion', 'ben'],
  ]);
  expect(mends).toEqual(['a change in the names of two people, made two']);
});

test('a date in the future becomes now, of two dates the earlier one holds', () => {
  const late = doc(paragraph(text('a', mark('insertion', seal('c1', 'ann', '2031-01-01T00:00:00Z')))));
  expect(listChanges(said(late).doc)[0]!.date).toBe(now);
  const two = doc(
    paragraph(
      text('a', mark('insertion', seal('c1', 'ann', '2026-11-02T00:00:00Z'))),
      text('b', mark('insertion', seal('c1'))),
    ),
  );
  expect(listChanges(said(two).doc).map(({ date, after }) => [date, after])).toEqual([['2026-11-01T09:00:00Z', 'ab']]);
  expect(said(two).mends).toEqual(['a change with two dates, given the earlier one']);
});

test('a first paragraph cannot be inserted or deleted', () => {
  const first = doc({ ...paragraph(text('a')), marks: [mark('openingDeleted', seal('c1'))] });
  expect(listChanges(said(first).doc)).toEqual([]);
  expect(said(first).mends).toEqual(['a first paragraph that was to be inserted or deleted, kept']);
});

test('tables stand between paragraphs; one without cells is left out', () => {
  const cell = { type: 'table_cell', content: [paragraph(text('x'))] };
  const table = { type: 'table', content: [{ type: 'table_row', content: [cell] }] };
  const { doc: mended } = said(doc(table, table, { type: 'table', content: [{ type: 'table_row' }] }));
  expect(mended.children.map(({ type }) => type.name)).toEqual([
    'paragraph',
    'table',
    'paragraph',
    'table',
    'paragraph',
  ]);
});

test('a move that has lost one end reads as the insertion or deletion that is left', () => {
  const state = EditorState.create({ doc: documentOf('Crabs walk. Worms do not.') });
  const { tr } = state;
  const moved = record(state, tr.delete(1, 13).insertText('Crabs walk. ', 14), { ...stamps()(0), apart: true }).doc;
  expect(listChanges(moved).map(({ kind }) => kind)).toEqual(['move']);
  const json = JSON.parse(JSON.stringify(moved)) as { content: { content: { marks?: { type: string }[] }[] }[] };
  json.content[0]!.content = json.content[0]!.content.filter((node) => node.marks?.[0]?.type !== 'insertion');
  expect(listChanges(mend(json, now).doc).map(({ kind, before }) => [kind, before])).toEqual([
    ['deletion', 'Crabs walk. '],
  ]);
});
