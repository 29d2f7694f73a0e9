import fc from 'fast-check';
import { EditorState } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  decide,
  fairReading,
  linesOf,
  listChanges,
  placesOf,
  plainText,
  record,
  sameManuscript,
  schema,
  search,
  sweep,
  sweepOf,
  UnreadableQuery,
  type Query,
} from '../src/index.js';
import { documentOf, footnote, paragraph, someText, stamps, table } from './support/editing.js';

const query = (text: string, more: Partial<Query> = {}): Query => ({
  text,
  matchCase: false,
  wholeWords: false,
  pattern: false,
  style: null,
  ...more,
});
const found = (texts: string[], asked: Query, replacement = '') =>
  search(linesOf(documentOf(...texts)), asked, replacement);
const words = (texts: string[], asked: Query) => found(texts, asked).map(({ text }) => text);

test('a note that stands among the words found goes whole with them', () => {
  const doc = schema.node('doc', null, [
    schema.node('paragraph', null, [schema.text('tide'), footnote('Of its own.'), schema.text('mark')]),
  ]);
  const hits = search(linesOf(doc), query('e.m', { pattern: true }), 'e m');
  const swept = sweep(EditorState.create({ doc }), hits, stamps()(0));
  expect(plainText(fairReading(swept.doc))).toBe('tide mark');
  expect(sameManuscript(beforeReading(swept.doc), doc)).toBe(true);
});

test('case, whole words and expressions', () => {
  const texts = ['Tide and tides, TIDE.', 'ebb-tide'];
  expect(words(texts, query('tide'))).toEqual(['Tide', 'tide', 'TIDE', 'tide']);
  expect(words(texts, query('tide', { matchCase: true }))).toEqual(['tide', 'tide']);
  expect(words(texts, query('tide', { wholeWords: true }))).toEqual(['Tide', 'TIDE', 'tide']);
  expect(words(texts, query('ebb-tide'))).toEqual(['ebb-tide']);
  expect(words(texts, query('t.de', { pattern: true, matchCase: true }))).toEqual(['tide', 'tide']);
  expect(words(texts, query('t.de'))).toEqual([]);
  expect(words(['a (b) a.c'], query('(b) a.'))).toEqual(['(b) a.']);
  expect(words(['naïve nai\u0308ve'], query('na', { wholeWords: true }))).toEqual([]);
  expect(words(['anything'], query(''))).toEqual([]);
  expect(words(['xx'], query('y*', { pattern: true }))).toEqual([]);
});

test('only within a paragraph style, and in tables and footnotes too', () => {
  const doc = schema.nodes.doc!.create(null, [
    paragraph('tide', 'heading1'),
    schema.nodes.paragraph!.create(null, [schema.text('the tide'), footnote('low tide')]),
    table(['tide']),
    paragraph(''),
  ]);
  const lines = linesOf(doc);
  // Each is counted with the paragraph or table it stands in, as everywhere.
  expect(search(lines, query('tide')).map(({ line }) => lines[line]!.paragraph)).toEqual([1, 2, 2, 3]);
  expect(search(linesOf(doc), query('tide', { style: 'heading1' }))).toHaveLength(1);
});

// ECMA-262, table of replacement text symbols (GetSubstitution).
test('a replacement may point to the groups of an expression', () => {
  const of = (pattern: string, replacement: string) =>
    found(['12 May'], query(pattern, { pattern: true }), replacement).map((hit) => hit.replacement);
  expect(of('(\\d+) (\\w+)', '$2 $1')).toEqual(['May 12']);
  expect(of('(?<day>\\d+)', '$<day>th $& $$ $3')).toEqual(['12th 12 $ $3']);
  expect(found(['12'], query('12'), '$1')[0]!.replacement).toBe('$1');
});

test('an expression that is none is explained', () => {
  expect(() => found(['a'], query('(a', { pattern: true }))).toThrow(UnreadableQuery);
  expect(() => found(['a'], query('(a', { pattern: true }))).toThrow(/This is not a regular expression: .*\./);
});

test('words that are struck out are not found, and a match may run across them', () => {
  const state = EditorState.create({ doc: documentOf('low wet tide') });
  const struck = record(state, state.tr.delete(5, 9), stamps()(1)).doc;
  expect(search(linesOf(struck), query('wet'))).toEqual([]);
  const hits = search(linesOf(struck), query('low tide'), 'ebb');
  const { doc } = sweep(EditorState.create({ doc: struck }), hits, stamps()(0));
  expect(plainText(fairReading(doc))).toBe('ebb');
  expect(plainText(beforeReading(doc))).toBe('low wet tide');
});

const shore = ['The shoar is long.', 'A shoar, and a shoar again.'];
function swept() {
  const state = EditorState.create({ doc: documentOf(...shore) });
  return sweep(state, search(linesOf(state.doc), query('shoar'), 'shore'), stamps()(0)).doc;
}

test('the hits of one run are changes of their own and one sweep, with one author and date', () => {
  const changes = listChanges(swept());
  expect(changes.map(({ id }) => id)).toEqual(['c1.1', 'c1.2', 'c1.3']);
  expect(new Set(changes.map(({ id }) => sweepOf(id)))).toEqual(new Set(['c1']));
  expect(new Set(changes.map(({ author, date, kind }) => [author, date, kind].join()))).toHaveProperty('size', 1);
  expect(sweepOf('c1')).toBeNull();
});

test('a sweep is decided as one or hit by hit', () => {
  const doc = swept();
  const after = (...ids: string[]) => plainText(decide(new Transform(doc), ids, 'reject').doc);
  expect(plainText(fairReading(doc))).toBe('The shore is long.\nA shore, and a shore again.');
  expect(plainText(fairReading(decide(new Transform(doc), ['c1.2'], 'reject').doc))).toBe(
    'The shore is long.\nA shoar, and a shore again.',
  );
  expect(after('c1.1', 'c1.2', 'c1.3')).toBe(shore.join('\n'));
});

test('typing beside a hit does not become part of the sweep', () => {
  const doc = swept();
  const state = EditorState.create({ doc });
  const hit = listChanges(doc)[0]!.ranges[0]!;
  const typed = record(state, state.tr.insertText('s', hit.to), stamps()(0)).doc;
  expect(listChanges(typed)).toHaveLength(4);
  expect(plainText(beforeReading(typed))).toBe(shore.join('\n'));
});

test('what is replaced by itself is left alone, and ink leaves no change', () => {
  const state = EditorState.create({ doc: documentOf(...shore) });
  const hits = search(linesOf(state.doc), query('shoar'), 'shore');
  const inked = sweep(state, hits, null).doc;
  expect(listChanges(inked)).toEqual([]);
  expect(plainText(inked)).toBe('The shore is long.\nA shore, and a shore again.');
  expect(sweep(state, search(linesOf(state.doc), query('The', { matchCase: true }), 'The'), stamps()(0)).steps).toEqual(
    [],
  );
});

test('law 2 for sweeps: the fair reading is the replacement made plainly, the before reading what was there', () => {
  fc.assert(
    fc.property(
      someText,
      fc.constantFrom('a', 'the', 'x y', ' '),
      fc.constantFrom('', 'b', 'the tide', 'a'),
      (doc, text, by) => {
        const state = EditorState.create({ doc });
        const hits = search(linesOf(doc), query(text, { matchCase: true }), by);
        const { doc: recorded } = sweep(state, hits, stamps()(0));
        recorded.check();
        expect(sameManuscript(beforeReading(recorded), doc)).toBe(true);
        expect(sameManuscript(fairReading(recorded), sweep(state, hits, null).doc)).toBe(true);
        expect(plainText(fairReading(recorded))).toBe(plainText(doc).replaceAll(text, by));
      },
    ),
    { numRuns: 400 },
  );
});

test('words in a text box of a file are found and never replaced', () => {
  const box = schema.nodes.carried_thing.create({ carried: 'box', what: 'text box', says: 'Bring boots.' });
  const line = schema.nodes.paragraph.create(null, [schema.text('No boots '), box, schema.text(' here.')]);
  const doc = schema.nodes.doc.create(null, line);
  const hits = search(linesOf(doc), query('boots'), 'shoes');
  expect(hits.map(({ text, fixed }) => [text, fixed])).toEqual([
    ['boots', undefined],
    ['Bring boots.', true],
  ]);
  expect(placesOf(doc, hits)[1]).toEqual([{ from: 10, to: 11 }]);
  const state = EditorState.create({ doc });
  const swept = state.apply(sweep(state, hits, stamps()(0))).doc;
  expect(plainText(fairReading(swept))).toBe('No shoes  here.');
  expect(fairReading(swept).firstChild!.child(1).eq(box)).toBe(true);
});
