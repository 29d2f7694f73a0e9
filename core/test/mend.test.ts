import fc from 'fast-check';
import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  canonical,
  decide,
  isSound,
  listChanges,
  mend,
  mended,
  plainText,
  record,
  reviewMarks,
  schema,
} from '../src/index.js';
import { EditorState } from 'prosemirror-state';
import { documentOf, recorded, someDocument, someEdit, stamps } from './support/editing.js';

const now = '2026-11-10T10:00:00Z';
const signed = (change: string, author = 'ann', date = '2026-11-01T09:00:00Z') => ({ change, author, date });
const text = (words: string, ...marks: object[]) => ({ type: 'text', text: words, marks });
const mark = (type: string, attrs: object) => ({ type, attrs });
const paragraph = (...content: object[]) => ({ type: 'paragraph', content });
const doc = (...content: object[]) => ({ type: 'doc', content });
const said = (json: unknown) => {
  const { doc: whole, mends } = mend(json, now);
  return { text: plainText(whole), mends: mends.map(({ what }) => what), doc: whole };
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

/** Every letter that stands in data, in whatever it stands. */
function lettersIn(json: unknown): string[] {
  if (typeof json === 'string') return [...json];
  if (Array.isArray(json)) return json.flatMap(lettersIn);
  if (!json || typeof json !== 'object') return [];
  const { text, content } = json as { text?: unknown; content?: unknown };
  return [...lettersIn(text), ...lettersIn(content)];
}
const sortedLetters = (json: unknown) => lettersIn(json).sort().join('');

/** A document as data in which nothing is left to say: marks in order, neighbouring words with the same marks joined. */
const plainJson = (json: unknown) => canonical(Node.fromJSON(schema, json));

const someWords = fc.string({ unit: fc.constantFrom('a', 'b', 'é', '字', ' '), maxLength: 4 });
const someBroken = fc.letrec((tie) => ({
  node: fc.record(
    {
      type: fc.constantFrom(...Object.keys(schema.nodes), 'chapter', 'poem', 7),
      text: someWords,
      content: fc.oneof(
        { depthSize: 'small' },
        someWords,
        fc.array(fc.oneof(tie('node'), someWords), { maxLength: 3 }),
      ),
      attrs: fc.constantFrom(undefined, { style: 'poem' }, { list: { kind: 'bullet', level: 99 } }, { indent: 2 }),
      marks: fc.constantFrom(undefined, [mark('bold', {})], [mark('insertion', { change: 'a' })], [mark('odd', {})]),
    },
    { requiredKeys: ['type'] },
  ),
})).node;

test('no letter is dropped, whatever stands where', () => {
  let withLetters = 0;
  fc.assert(
    fc.property(fc.array(someBroken, { maxLength: 4 }), (content) => {
      const json = doc(...(content as object[]));
      const { doc: whole } = mend(json, now);
      whole.check();
      if (sortedLetters(json)) withLetters++;
      expect(sortedLetters(whole.toJSON())).toBe(sortedLetters(json));
    }),
    { numRuns: 2000 },
  );
  expect(withLetters).toBeGreaterThan(1000);
});

/** Every node of a document's data, outermost first. */
const nodesIn = (json: Record<string, unknown>): Record<string, unknown>[] => [
  json,
  ...(Array.isArray(json.content) ? (json.content as Record<string, unknown>[]) : [])
    .filter((each) => !!each && typeof each === 'object')
    .flatMap(nodesIn),
];
const someHarm: fc.Arbitrary<[number, string, unknown]> = fc.tuple(
  fc.nat(40),
  fc.constantFrom('type', 'text', 'content', 'attrs', 'marks', 'colour'),
  fc.constantFrom<unknown>(
    undefined,
    'ebb',
    7,
    [],
    {},
    { indent: 2 },
    { indent: 99 },
    'paragraph',
    'table',
    [null],
    [{ type: 'bold' }],
  ),
);

test('all that is mended is said', () => {
  let silent = 0;
  let mendings = 0;
  fc.assert(
    fc.property(
      someDocument,
      fc.array(someEdit(2), { maxLength: 4 }),
      fc.array(someHarm, { maxLength: 2 }),
      (before, script, harms) => {
        const json = JSON.parse(JSON.stringify(recorded(before, script))) as Record<string, unknown>;
        for (const [n, name, value] of harms) {
          const nodes = nodesIn(json);
          if (n < nodes.length && n > 0) nodes[n]![name] = value;
        }
        const { doc: whole, mends } = mend(json, '2026-12-01T00:00:00Z');
        expect(sortedLetters(whole.toJSON())).toBe(sortedLetters(json));
        if (mends.length) return void mendings++;
        silent++;
        // Nothing was said, so nothing may be other than it was.
        expect(canonical(whole)).toEqual(plainJson(json));
      },
    ),
    { numRuns: 1000 },
  );
  expect(silent).toBeGreaterThan(100);
  expect(mendings).toBeGreaterThan(100);
});

test.each([
  ['a table whose row is a paragraph', { type: 'table', content: [paragraph(text('ebb'))] }, 'ebb'],
  ['a row whose cell is text', { type: 'table', content: [{ type: 'table_row', content: [text('ebb')] }] }, 'ebb'],
  ['words inside a line break', paragraph({ type: 'line_break', content: [text('ebb')] }), '\u2028ebb'],
  ['words said by a line break', paragraph({ type: 'line_break', text: 'ebb' }), '\u2028ebb'],
  ['words inside a picture', paragraph({ type: 'image', attrs: { asset: 'a1' }, content: [text('ebb')] }), 'ebb'],
  ['words inside a picture without a file', paragraph({ type: 'image', content: [text('ebb')] }), 'ebb'],
  ['words that stand bare', { type: 'paragraph', content: 'ebb' }, 'ebb'],
  ['words said by a paragraph', { type: 'paragraph', text: 'ebb' }, 'ebb'],
])('%s: the words are kept, and it is said', (_, broken, words) => {
  const { text: found, mends } = said(doc(broken));
  expect(found.replace(/\n/g, '')).toBe(words);
  expect(mends.length).toBeGreaterThan(0);
});

test('what is no document at all is an empty one; its words, if it has any, are kept', () => {
  for (const json of [null, 7, {}]) expect(said(json).text).toBe('');
  for (const json of ['ebb', { content: 'ebb' }, { text: 'ebb' }]) expect(said(json).text).toBe('ebb');
});

test('a sound document is known as one, and is not read again', () => {
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(3), { maxLength: 6 }), (before, script) => {
      const sound = recorded(before, script);
      expect(isSound(sound, '2026-12-01T00:00:00Z')).toBe(true);
      expect(mended(sound, '2026-12-01T00:00:00Z').doc).toBe(sound);
    }),
    { numRuns: 100 },
  );
});

test.each([
  ['two authors', [signed('c1'), signed('c1', 'ben')]],
  ['two dates', [signed('c1'), signed('c1', 'ann', '2026-11-02T00:00:00Z')]],
  ['a date in the future', [signed('c1', 'ann', '2031-01-01T00:00:00Z')]],
])('a change with %s is not sound', (_, all) => {
  const words = all.map((attrs, i) => text(`w${i}`, mark('insertion', attrs)));
  const broken = Node.fromJSON(schema, doc(paragraph(text('x'), ...words)));
  expect(isSound(broken, now)).toBe(false);
  expect(isSound(mended(broken, now).doc, now)).toBe(true);
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
    paragraph(text('a', mark('insertion', signed('c1'))), text('b'), text('c', mark('deletion', signed('c1', 'ben')))),
  );
  const { doc: mended, mends } = said(shared);
  expect(listChanges(mended).map(({ kind, author }) => [kind, author])).toEqual([
    ['insertion', 'ann'],
    ['deletion', 'ben'],
  ]);
  expect(mends).toEqual(['a change in the names of two people, made two']);
});

test('a date in the future becomes now, of two dates the earlier one holds', () => {
  const late = doc(paragraph(text('a', mark('insertion', signed('c1', 'ann', '2031-01-01T00:00:00Z')))));
  expect(listChanges(said(late).doc)[0]!.date).toBe(now);
  const two = doc(
    paragraph(
      text('a', mark('insertion', signed('c1', 'ann', '2026-11-02T00:00:00Z'))),
      text('b', mark('insertion', signed('c1'))),
    ),
  );
  expect(listChanges(said(two).doc).map(({ date, after }) => [date, after])).toEqual([['2026-11-01T09:00:00Z', 'ab']]);
  expect(said(two).mends).toEqual(['a change with two dates, given the earlier one']);
});

test('a first paragraph cannot be inserted or deleted', () => {
  const first = doc({ ...paragraph(text('a')), marks: [mark('openingDeleted', signed('c1'))] });
  expect(listChanges(said(first).doc)).toEqual([]);
  expect(said(first).mends).toEqual(['a first paragraph that was to be inserted or deleted, kept']);
});

test('a footnote in a footnote gives up its words; characters that are none and changes of what cannot be go, and are said', () => {
  const footnote = (...content: object[]) => ({
    type: 'footnote',
    attrs: { kind: 'foot' },
    content: [{ type: 'paragraph', content }],
  });
  const entry = {
    type: 'formatting',
    attrs: { ...signed('c1'), order: 1, was: { style: 'body' }, now: { style: 'title' } },
  };
  const { doc: mended, mends } = said(
    doc(
      paragraph(
        { ...text('a\u0000b\ud83d'), marks: [entry] },
        footnote(text('one '), footnote(text('two')), text(' three')),
      ),
    ),
  );
  expect(mended.textContent).toBe('ab\ufffdone two three');
  expect(listChanges(mended)).toEqual([]);
  expect(isSound(mended, now)).toBe(true);
  expect(mends.sort()).toEqual([
    'a change of a property that its words cannot have, left out',
    'a footnote in a footnote, its words put in its place',
    'characters that no text can hold, left out',
    'something that a paragraph cannot hold, its words kept',
  ]);
});

/** Marks of every type with ids, people and dates of few values, so that they contradict each other. */
const someReview = fc
  .record({
    type: fc.constantFrom(...reviewMarks, 'anchor'),
    change: fc.constantFrom('c1', 'c2'),
    author: fc.constantFrom('ann', 'ben'),
    date: fc.constantFrom('2026-11-01T09:00:00Z', '2026-11-02T09:00:00Z', '2031-01-01T00:00:00Z'),
    order: fc.constantFrom(1, 2),
    now: fc.constantFrom({ bold: true }, { italic: true }, { style: 'title' }, { header: true }),
  })
  .map(({ type, now: is, ...attrs }) =>
    mark(type, {
      ...attrs,
      thread: 't',
      was: Object.fromEntries(Object.keys(is).map((name) => [name, null])),
      now: is,
    }),
  );

test('whatever marks stand on whatever node, what is mended is sound, and no letter is dropped', () => {
  let broken = 0;
  const scattered = fc.array(fc.tuple(fc.nat(40), fc.array(someReview, { minLength: 1, maxLength: 3 })), {
    minLength: 1,
    maxLength: 5,
  });
  fc.assert(
    fc.property(someDocument, fc.array(someEdit(2), { maxLength: 4 }), scattered, (before, script, all) => {
      const json = JSON.parse(JSON.stringify(recorded(before, script))) as Record<string, unknown>;
      const nodes = nodesIn(json);
      for (const [n, marks] of all) {
        const node = nodes[n % nodes.length]!;
        node.marks = [...((node.marks as object[] | undefined) ?? []), ...marks];
      }
      const { doc: whole, mends } = mend(json, now);
      if (mends.length) broken++;
      expect(isSound(whole, now)).toBe(true);
      expect(sortedLetters(whole.toJSON())).toBe(sortedLetters(json));
    }),
    { numRuns: 1500 },
  );
  expect(broken).toBeGreaterThan(1000);
});

test('marks of one change with two dates on the same words become one; several entries of one change are decided as one', () => {
  const twice = [signed('c1'), signed('c1', 'ann', '2026-11-02T00:00:00Z')];
  const entry = (now: object, order: number) =>
    mark('formatting', {
      ...signed('c2'),
      order,
      was: Object.fromEntries(Object.keys(now).map((n) => [n, null])),
      now,
    });
  const { doc: mended, mends } = said(
    doc(
      paragraph(
        text('a', mark('insertion', twice[0]!), mark('insertion', twice[1]!)),
        text('c', entry({ bold: true }, 1), entry({ italic: true }, 2), mark('bold', {}), mark('italic', {})),
      ),
    ),
  );
  expect(isSound(mended, now)).toBe(true);
  expect(mended.textContent).toBe('ac');
  expect(mended.firstChild!.firstChild!.marks).toHaveLength(1);
  expect(mends).toEqual(['a change with two dates, given the earlier one']);
  for (const verdict of ['accept', 'reject'] as const)
    expect(listChanges(decide(new Transform(mended), ['c2'], verdict).doc).map(({ id }) => id)).toEqual(['c1']);
  const kept = decide(new Transform(mended), ['c2'], 'reject').doc.firstChild!.lastChild!;
  expect([kept.text, kept.marks]).toEqual(['c', []]);
});

test('a table that replaces another one is sound', () => {
  const one = recorded(documentOf('a'), [{ by: 0, kind: 'table', from: 1, to: 1, text: '', which: 0 }]);
  const { tr } = EditorState.create({ doc: one });
  const plain = decide(tr, 'all', 'accept').doc;
  const state = EditorState.create({ doc: plain });
  const at = plain.child(0).nodeSize;
  const other = schema.nodes.table.create(null, plain.child(1).child(0));
  const replaced = record(state, state.tr.replaceWith(at, at + plain.child(1).nodeSize, other), stamps()(0)).doc;
  expect(listChanges(replaced).map(({ kind }) => kind)).toEqual(['table']);
  expect(isSound(replaced, now)).toBe(true);
});

test('a text nested ten thousand deep opens with its letters', () => {
  let deep: object = text('ebb');
  for (let n = 0; n < 10_000; n++) deep = { type: 'footnote', content: [deep] };
  const { text: words, mends } = said(doc(paragraph(text('flood')), paragraph(deep)));
  expect(words).toBe('flood\nebb');
  expect(mends).toContain('a part that could not be read, its letters kept as plain words');
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
