import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { Transform } from 'prosemirror-transform';
import { zipSync, strToU8, unzipSync } from 'fflate';
import {
  CommentRangeEnd,
  CommentRangeStart,
  CommentReference,
  DeletedTextRun,
  Document,
  FootnoteReferenceRun,
  Header,
  HeadingLevel,
  ImageRun,
  InsertedTextRun,
  LevelFormat,
  Packer,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
} from 'docx';
import {
  beforeReading,
  fairReading,
  listChanges,
  plainText,
  readDocx,
  remarkOf,
  remarkText,
  schema,
  UnreadableFile,
  writeDocx,
  type Person,
} from '../src/index.js';
import { anew } from './support/anew.js';
import { authors, documentOf, recorded, someTextEdit } from './support/editing.js';
import { pixel } from './support/package.js';
import { commentedWords, linesOf, marks, ours, paragraphs } from './support/pandoc.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));

// Outside check: pandoc (Debian), DOCX reader with --track-changes.
test('pandoc finds in our files the changes, authors, dates and both texts that the core finds', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constant(documentOf('the tide x y', 'ab the tide, ab', 'x y ab')),
      fc.array(someTextEdit(3), { minLength: 1, maxLength: 6 }),
      async (doc, script) => {
        const marked = recorded(doc, script);
        // pandoc passes over what is both inserted and deleted; our own round trip covers that.
        let both = false;
        marked.descendants((node) => {
          both ||= node.marks.filter((m) => /^(opening|insertion|deletion)/.test(m.type.name)).length > 1;
        });
        // It passes over the marks of paragraphs that are empty or headings, too.
        let unseen = false;
        marked.forEach((block, _, i) => {
          const above = i ? marked.child(i - 1) : null;
          unseen ||=
            !!above &&
            block.marks.some((m) => /^opening/.test(m.type.name)) &&
            (!above.textContent.trim() || above.attrs.style !== 'body');
        });
        fc.pre(!both && !unseen);
        const bytes = await writeDocx({ doc: marked, people, threads: [], assets: [] });
        expect(marks(bytes).changes).toEqual(ours(marked, people));
        expect(paragraphs(bytes, 'accept')).toEqual(linesOf(plainText(fairReading(marked))));
        expect(paragraphs(bytes, 'reject')).toEqual(linesOf(plainText(beforeReading(marked))));
      },
    ),
    { numRuns: 25 },
  );
});

test('pandoc finds our comments with author, date and words', async () => {
  const tr = new Transform(documentOf('Turn the weed over with a stick.'));
  tr.addMark(6, 14, schema.marks.anchor!.create({ thread: 't1' }));
  const date = '2026-11-20T08:00:00Z';
  const comments = [
    { id: 'k1', author: 'ann', date, body: remarkOf('Which weed?') },
    { id: 'k2', author: 'ben', date: '2026-11-20T09:00:00Z', body: remarkOf('Wrack.') },
  ];
  const threads = [{ id: 't1', author: 'ann', date, quote: 'the weed', resolved: false, comments }];
  const bytes = await writeDocx({ doc: tr.doc, people, threads, assets: [] });
  expect(marks(bytes).comments).toEqual([
    ['comment-start', 'ann Author', '2026-11-20T08:00:00Z', 'Whichweed?'],
    ['comment-start', 'ben Author', '2026-11-20T09:00:00Z', 'Wrack.'],
  ]);
  expect(commentedWords(bytes)).toEqual(['theweed', 'theweed']);
});

// Outside check: the `docx` package from the npm registry writes, we read.
test('a file written by the docx package is read with its revisions and comments', async () => {
  const at = '2026-11-02T10:00:00Z';
  const file = new Document({
    comments: {
      children: [
        { id: 0, author: 'Maren Holt', initials: 'MH', date: new Date(at), children: [new Paragraph('Orchestia?')] },
      ],
    },
    sections: [
      {
        children: [
          new Paragraph({ text: 'The wrack line', heading: HeadingLevel.HEADING_1 }),
          new Paragraph({
            children: [
              new TextRun('Look for '),
              new DeletedTextRun({ text: 'mermaids', id: 1, author: 'Ines Vega', date: at }),
              new InsertedTextRun({ text: 'mermaid’s', id: 2, author: 'Ines Vega', date: at }),
              new CommentRangeStart(0),
              new TextRun({ text: ' purses', bold: true }),
              new CommentRangeEnd(0),
              new TextRun({ children: [new CommentReference(0)] }),
              new InsertedTextRun({ text: ' on the sand', id: 3, author: 'Tobias Oyelaran', date: at }),
            ],
          }),
          new Paragraph({ text: 'razor shells', bullet: { level: 1 } }),
        ],
      },
    ],
  });
  const { manuscript } = await readDocx(new Uint8Array(await Packer.toBuffer(file)));
  const name = (id: string) => manuscript.people.find((person) => person.id === id)?.name;
  expect(plainText(fairReading(manuscript.doc))).toBe(
    'The wrack line\nLook for mermaid’s purses on the sand\nrazor shells',
  );
  expect(plainText(beforeReading(manuscript.doc))).toBe('The wrack line\nLook for mermaids purses\nrazor shells');
  expect(listChanges(manuscript.doc).map((c) => [c.kind, name(c.author), c.date, c.before, c.after])).toEqual([
    ['replacement', 'Ines Vega', at, 'mermaids', 'mermaid’s'],
    ['insertion', 'Tobias Oyelaran', at, '', ' on the sand'],
  ]);
  expect(manuscript.doc.child(0).attrs.style).toBe('heading1');
  expect(manuscript.doc.child(2).attrs.list).toEqual({ kind: 'bullet', level: 1 });
  expect(
    manuscript.threads.map((t) => [t.quote, remarkText(t.comments[0]!.body, String), name(t.comments[0]!.author)]),
  ).toEqual([[' purses', 'Orchestia?', 'Maren Holt']]);
});

describe('files that cannot be read are refused with the reason', () => {
  const good = () => writeDocx({ doc: documentOf('A line.'), people, threads: [], assets: [] });
  const withMain = async (main: string) => zipSync({ ...unzipSync(await good()), 'word/document.xml': strToU8(main) });
  const refusal = async (bytes: Uint8Array) => {
    const problem: unknown = await readDocx(bytes).then(
      () => null,
      (e: unknown) => e,
    );
    expect(problem).toBeInstanceOf(UnreadableFile);
    return (problem as UnreadableFile).reason;
  };
  test('an empty one', async () => expect(await refusal(new Uint8Array())).toBe('is empty'));
  test('something else', async () => expect(await refusal(strToU8('%PDF-1.7'))).toMatch(/not what its name says/));
  test('one cut short', async () => expect(await refusal((await good()).slice(0, 900))).toMatch(/cut short/));
  test('one of 60 MB', async () =>
    expect(await refusal(new Uint8Array(60 << 20).fill(1))).toMatch(/larger than 50 MB/));
  test('a package without text', async () =>
    expect(await refusal(zipSync({ 'a.xml': strToU8('<a/>') }))).toMatch(/no main text/));
  test('broken XML', async () =>
    expect(await refusal(await withMain('<w:document><w:body>'))).toMatch(/XML inside is broken/));
  test('entities from outside', async () => {
    const main = '<!DOCTYPE d [<!ENTITY x SYSTEM "file:///etc/passwd">]><w:document>&x;</w:document>';
    expect(await refusal(await withMain(main))).toMatch(/declares entities/);
  });
  /** The file with the unpacked size of its main text, as its directory declares it, set (APPNOTE of zip, 4.3.12). */
  const declaring = async (size: number) => {
    const bytes = zipSync({ 'word/document.xml': new Uint8Array(20 << 20) }, { level: 1 });
    const view = new DataView(bytes.buffer);
    const entry = Array.from({ length: bytes.length - 4 }, (_, i) => i).find(
      (i) => view.getUint32(i, true) === 0x02014b50,
    )!;
    view.setUint32(entry + 24, size, true);
    return bytes;
  };
  test('one that unpacks to gigabytes', async () =>
    expect(await refusal(await declaring(3_000_000_000))).toMatch(/more than 120 MB/));
  test('one that lies about how large it gets', async () =>
    expect(await refusal(await declaring(1000))).toMatch(/damaged/));
});

test('what a manuscript does not know is carried and counted; what is not in the file is lost and counted', async () => {
  const bytes = await writeDocx({ doc: documentOf('A line.'), people, threads: [], assets: [] });
  const parts = unzipSync(bytes);
  const main = new TextDecoder().decode(parts['word/document.xml']);
  const extra =
    '<w:tbl><w:tblPr/><w:tblGrid/><w:tr><w:tc><w:p><w:r><w:t>in a cell</w:t></w:r></w:p></w:tc></w:tr></w:tbl>' +
    '<w:p><w:r><w:rPr><w:color w:val="FF0000"/></w:rPr><w:t>red</w:t><w:drawing/></w:r>' +
    '<w:r><w:footnoteReference w:id="9"/></w:r></w:p>';
  parts['word/document.xml'] = strToU8(main.replace('</w:body>', `${extra}</w:body>`));
  const { manuscript, losses, carried } = await readDocx(zipSync(parts));
  expect(plainText(manuscript.doc)).toBe('A line.\nin a cell\nred');
  expect(manuscript.doc.child(2).firstChild!.marks).toEqual([schema.marks.colour.create({ value: '#ff0000' })]);
  expect(losses).toEqual([{ what: 'footnote that is not in the file', where: 'text', howMany: 1 }]);
  expect(carried).toEqual([{ what: 'drawing', where: 'text', howMany: 1 }]);
});

// Outside check: the `docx` package from the npm registry writes, we read and write, pandoc reads both.
test('tables, pictures, notes, headers and numbering of the docx package come in and go out whole', async () => {
  const cell = (text: string, more: object = {}) => new TableCell({ children: [new Paragraph(text)], ...more });
  const file = new Document({
    footnotes: { 1: { children: [new Paragraph('Third edition.')] } },
    numbering: {
      config: [{ reference: 'steps', levels: [{ level: 0, format: LevelFormat.LOWER_LETTER, text: '%1)' }] }],
    },
    sections: [
      {
        headers: { default: new Header({ children: [new Paragraph('Harrow Point')] }) },
        children: [
          new Paragraph({ children: [new TextRun('See the note'), new FootnoteReferenceRun(1), new TextRun('.')] }),
          new Paragraph({ text: 'turn the weed', numbering: { reference: 'steps', level: 0 } }),
          new Table({
            rows: [
              new TableRow({ tableHeader: true, children: [cell('Day'), cell('High', { columnSpan: 2 })] }),
              new TableRow({ children: [cell('Mon', { rowSpan: 2 }), cell('06:12'), cell('18:40')] }),
              new TableRow({ children: [cell('07:01'), cell('19:22')] }),
            ],
          }),
          new Paragraph({
            children: [new ImageRun({ type: 'png', data: pixel, transformation: { width: 30, height: 20 } })],
          }),
        ],
      },
    ],
  });
  const bytes = new Uint8Array(await Packer.toBuffer(file));
  const { manuscript, losses } = await readDocx(bytes);
  expect(losses).toEqual([]);
  const spans: unknown[] = [];
  const found: string[] = [];
  manuscript.doc.descendants((node) => {
    if (node.type.name === 'table_cell')
      spans.push([node.textContent, node.attrs.colspan, node.attrs.rowspan, node.attrs.header]);
    if (['footnote', 'image'].includes(node.type.name)) found.push(`${node.type.name} ${node.textContent}`);
    if (node.attrs.list) found.push(JSON.stringify(node.attrs.list));
  });
  expect(spans).toEqual([
    ['Day', 1, 1, true],
    ['High', 2, 1, true],
    ['Mon', 1, 2, false],
    ['06:12', 1, 1, false],
    ['18:40', 1, 1, false],
    ['07:01', 1, 1, false],
    ['19:22', 1, 1, false],
  ]);
  expect(found).toEqual(['footnote Third edition.', '{"kind":"number","level":0}', 'image ']);
  expect(unzipSync(await writeDocx(manuscript))).toEqual(unzipSync(bytes));
  expect(seen(await writeDocx(anew(manuscript)))).toEqual(seen(bytes));
});
const seen = (file: Uint8Array) =>
  execFileSync('pandoc', ['-f', 'docx', '-t', 'json', '--track-changes=all'], { input: file }).toString();

// Outside check: python-docx (Debian) reads what we write into a blank file: tables, pictures, styles, sections.
test('python-docx reads our tables, pictures, styles and lists', async () => {
  const paragraph = (text: string, attrs: object = {}) =>
    schema.nodes.paragraph.create(attrs, text ? schema.text(text) : null);
  const { table, table_row: row, table_cell: cell, doc: docType, image } = schema.nodes;
  const doc = docType.create(null, [
    paragraph('The Wrack Line', { style: 'heading1' }),
    paragraph('whelks', { list: { kind: 'bullet', level: 1 } }),
    table.create(null, [
      row.create(null, [cell.create({ colspan: 2 }, paragraph('Tides'))]),
      row.create(null, [cell.create({ rowspan: 2 }, paragraph('Mon')), cell.create(null, paragraph('06:12'))]),
      row.create(null, [cell.create(null, paragraph('18:40'))]),
    ]),
    schema.nodes.paragraph.create(
      { align: 'center' },
      image.create({ asset: 'crab', alt: 'a crab', width: 96, height: 48 }),
    ),
  ]);
  const bytes = await writeDocx({
    doc,
    people,
    threads: [],
    assets: [{ id: 'crab', type: 'image/png', bytes: pixel }],
  });
  const script = `
import sys, io, json, docx
d = docx.Document(io.BytesIO(sys.stdin.buffer.read()))
t = d.tables[0]
print(json.dumps({
  'styles': [p.style.name for p in d.paragraphs],
  'texts': [p.text for p in d.paragraphs],
  'cells': [[c.text for c in r.cells] for r in t.rows],
  'pictures': [[s.width.pt, s.height.pt] for s in d.inline_shapes],
  'alignment': str(d.paragraphs[-1].alignment),
}))`;
  const read = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script], { input: bytes }).toString()) as object;
  expect(read).toEqual({
    styles: ['Heading 1', 'Normal', 'Normal'],
    texts: ['The Wrack Line', 'whelks', ''],
    cells: [
      ['Tides', 'Tides'],
      ['Mon', '06:12'],
      ['Mon', '18:40'],
    ],
    pictures: [[72, 36]],
    alignment: 'CENTER (1)',
  });
});
