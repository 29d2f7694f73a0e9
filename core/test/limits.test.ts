import type { Mark, Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { EditorState } from 'prosemirror-state';
import { zipSync, strToU8 } from 'fflate';
import {
  checkBatch,
  isWhole,
  limits,
  limitWords,
  overLimit,
  readDocx,
  readText,
  record,
  schema,
  TooMuch,
  UnreadableFile,
  type Limit,
} from '../src/index.js';
import { documentOf, paragraph } from './support/editing.js';

/** How much a manuscript may hold, and what is said of more. */

const now = '2026-11-10T10:00:00Z';
const stamp = { author: 'ann', date: now, newChange: () => 'fresh' };
const sender = { author: 'ann', now, known: () => undefined };
const manyPieces = (howMany: number): Node =>
  schema.nodes.paragraph.create(
    null,
    Array.from({ length: howMany }, (_, i) => schema.text('x', i % 2 ? [schema.marks.bold.create()] : null)),
  );
const tableOf = (cells: number): Node => {
  const row = (n: number) =>
    schema.nodes.table_row.create(
      null,
      Array.from({ length: n }, () => schema.nodes.table_cell.create(null, paragraph('x'))),
    );
  return schema.nodes.table.create(
    null,
    Array.from({ length: cells / 10 }, () => row(10)),
  );
};

test.each<[Limit, Node[]]>([
  ['paragraphLetters', [paragraph('x'.repeat(limits.paragraphLetters + 1))]],
  ['paragraphPieces', [manyPieces(limits.paragraphPieces + 1)]],
  ['cells', [tableOf(limits.cells + 10), paragraph('')]],
  ['paragraphs', Array.from({ length: limits.paragraphs }, () => paragraph(''))],
  ['letters', Array.from({ length: 100 }, () => paragraph('x'.repeat(limits.letters / 100)))],
])('more than a manuscript may hold is refused, with the limit: %s', (limit, blocks) => {
  const doc = documentOf('The tide.');
  const tr = new Transform(doc).insert(doc.content.size, blocks);
  expect(checkBatch(doc, tr.doc, tr.steps, tr.mapping, 'ink', sender)).toBe(`This is too much: ${limitWords[limit]}.`);
  expect(overLimit(null, tr.doc)).toBe(limit);
});

const linked = (letters: number) => schema.marks.link.create({ href: `https://${'x'.repeat(letters)}` });
/** A paragraph in which every other word bears some marks. */
const bearing = (words: number, ...marks: Mark[]): Node =>
  schema.nodes.paragraph.create(
    null,
    Array.from({ length: words * 2 }, (_, i) => schema.text('word ', i % 2 ? marks : null)),
  );

test('what is said of the words counts as well: links, signatures and formatting as long as they are written down', () => {
  const many = Array.from({ length: 2060 }, () => bearing(10, linked(1900)));
  const doc = documentOf('The tide.');
  const tr = new Transform(doc).insert(doc.content.size, many);
  expect(overLimit(null, tr.doc)).toBe('weight');
  expect(overLimit(null, schema.nodes.doc.create(null, many.slice(0, 1900)))).toBeNull();
  expect(checkBatch(doc, tr.doc, tr.steps, tr.mapping, 'ink', sender)).toBe(`This is too much: ${limitWords.weight}.`);
  // It may shrink, and it does not grow in small bites.
  const { doc: large } = tr;
  const last = large.content.size - 1;
  expect(overLimit(large, new Transform(large).delete(last - 4, last).doc)).toBeNull();
  expect(overLimit(large, new Transform(large).addMark(2, 4, linked(10)).doc)).toBe('weight');
});

const signature = { change: 'c-1', author: 'ann', date: now };
const [was, is] = [{ bold: null }, { bold: true, link: 'https://tide.example/tables' }];
test.each([
  ['links', bearing(1400, linked(300))],
  ['changes', bearing(1400, schema.marks.insertion.create(signature))],
  ['formatting', bearing(1400, schema.marks.formatting.create({ ...signature, was, now: is }))],
  ['tables', tableOf(4000)],
])('a limit of 40 MB is met where JSON.stringify makes about that of the text: %s', (_, block) => {
  const fits = limits.weight / JSON.stringify(block.toJSON()).length;
  const over = (share: number) =>
    overLimit(null, schema.nodes.doc.create(null, Array<Node>(Math.round(fits * share)).fill(block)));
  expect([over(0.75), over(1.25)]).toEqual([null, 'weight']);
});

test('what is larger already may be worked in, and may shrink, but not grow', () => {
  const doc = documentOf('x'.repeat(limits.paragraphLetters + 10), 'The tide.');
  const over = (tr: Transform) => checkBatch(doc, tr.doc, tr.steps, tr.mapping, 'ink', sender);
  expect(over(new Transform(doc).delete(1, 3))).toBeNull();
  expect(over(new Transform(doc).insert(doc.content.size - 1, schema.text('more')))).toBeNull();
  expect(over(new Transform(doc).replaceWith(1, 2, schema.text('y')))).toBeNull();
  expect(over(new Transform(doc).insert(1, schema.text('y')))).toMatch(/at most 50,000 letters; divide it/);
});

test('a change all over a long text, in pencil, is within the rules; one false touch in it is not', () => {
  const doc = documentOf(...Array.from({ length: 300 }, (_, i) => `Paragraph ${i} of the tide tables.`));
  const state = EditorState.create({ doc });
  let { tr } = state;
  doc.forEach((_, offset, i) => {
    if (i % 7 === 0) tr = tr.insertText('now ', tr.mapping.map(offset + 5));
  });
  const recorded = record(state, tr, stamp);
  const check = (one: Transform) => checkBatch(doc, one.doc, one.steps, one.mapping, 'pencil', sender);
  expect(check(recorded)).toBeNull();
  const last = recorded.doc.content.size - 3;
  expect(check(recorded.delete(last, last + 1))).toBe('In pencil, nothing may be changed without being recorded.');
});

const package_ = (body: string, styles = '') => {
  const names = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  return zipSync({
    'word/document.xml': strToU8(`<w:document ${names}><w:body>${body}</w:body></w:document>`),
    'word/styles.xml': strToU8(`<w:styles ${names}>${styles}</w:styles>`),
  });
};
const why = (reading: Promise<unknown>): Promise<string> =>
  reading.then(
    () => 'read',
    (problem: unknown) => (problem instanceof UnreadableFile ? problem.reason : String(problem)),
  );

test('files that would take a machine are refused before they do', async () => {
  await expect(readText(strToU8('\n'.repeat(5_000_000)))).rejects.toThrow(TooMuch);
  expect(await why(readDocx(package_('<w:p/>'.repeat(limits.paragraphs + 2))))).toMatch(/50,000 paragraphs/);
  expect(await why(readDocx(package_('<w:p/>'.repeat(2_600_000))))).toMatch(/more elements inside than a book/);
  const parts = Object.fromEntries(Array.from({ length: 5001 }, (_, i) => [`word/${i}.xml`, strToU8('<x/>')]));
  expect(await why(readDocx(zipSync(parts)))).toMatch(/more than 5,000 parts/);
});

test('parts that lie over one another are counted as often as they are named', async () => {
  // Sixty names for the same stored megabytes (APPNOTE 6.3.10, section 4.3.12: the central directory says where).
  const whole = zipSync({ 'word/document.xml': [strToU8(' '.repeat(3_000_000)), { level: 0 }] });
  const view = new DataView(whole.buffer, whole.byteOffset, whole.byteLength);
  const end = whole.byteLength - 22;
  const [size, start] = [view.getUint32(end + 12, true), view.getUint32(end + 16, true)];
  const entry = whole.slice(start, start + size);
  const bytes = new Uint8Array(start + size * 60 + 22);
  bytes.set(whole.subarray(0, start));
  for (let i = 0; i < 60; i++) {
    const named = entry.slice();
    named.set(strToU8(String(i).padStart(2, '0')), 46 + 5); // word/00cument.xml, word/01cument.xml …
    bytes.set(named, start + size * i);
  }
  bytes.set(whole.subarray(end), start + size * 60);
  const out = new DataView(bytes.buffer);
  const tail = start + size * 60;
  for (const at of [tail + 8, tail + 10]) out.setUint16(at, 60, true);
  out.setUint32(tail + 12, size * 60, true);
  expect(await why(readDocx(bytes))).toMatch(/more than 120 MB/);
});

test('a style that is based on thousands of others is read all the same', async () => {
  const chained = Array.from(
    { length: 4000 },
    (_, i) => `<w:style w:styleId="s${i}"><w:basedOn w:val="s${i + 1}"/></w:style>`,
  ).join('');
  const body = Array.from({ length: 4000 }, (_, i) => `<w:p><w:pPr><w:pStyle w:val="s${i}"/></w:pPr></w:p>`).join('');
  const { manuscript } = await readDocx(package_(body, chained));
  expect(manuscript.doc.childCount).toBe(4000);
});

test('a table is as large as its grid: neither spans nor one long row make it grow beyond what may be', () => {
  const { table: whole, table_row: row, table_cell: cell } = schema.nodes;
  const cells = (n: number, attrs = {}) => Array.from({ length: n }, () => cell.create(attrs, paragraph('')));
  const of = (...rows: ReturnType<typeof cells>[]) =>
    schema.nodes.doc.create(null, [
      paragraph(''),
      whole.create(
        null,
        rows.map((all) => row.create(null, all)),
      ),
      paragraph(''),
    ]);
  const thin = Array.from({ length: 400 }, () => cells(1));
  expect(overLimit(null, of(...thin))).toBeNull();
  expect(overLimit(null, of(cells(400), ...thin))).toBe('cells');
  expect(overLimit(null, of(cells(1, { colspan: 100, rowspan: 1000 }), ...thin))).toBe('cells');
  expect(overLimit(null, of(...Array.from({ length: 300 }, () => cells(1, { colspan: 20 }))))).toBe('cells');
  expect(isWhole(of(...Array.from({ length: 2000 }, () => cells(1, { colspan: 100, rowspan: 1000 }))).child(1))).toBe(
    false,
  );
});
