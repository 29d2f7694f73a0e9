import fc from 'fast-check';
import { Transform } from 'prosemirror-transform';
import { zipSync, strToU8, unzipSync } from 'fflate';
import {
  CommentRangeEnd,
  CommentRangeStart,
  CommentReference,
  DeletedTextRun,
  Document,
  HeadingLevel,
  InsertedTextRun,
  Packer,
  Paragraph,
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
import { authors, documentOf, recorded, someTextEdit } from './support/editing.js';
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

test('what a manuscript cannot hold is counted', async () => {
  const bytes = await writeDocx({ doc: documentOf('A line.'), people, threads: [], assets: [] });
  const parts = unzipSync(bytes);
  const main = new TextDecoder().decode(parts['word/document.xml']);
  const extra =
    '<w:tbl><w:tr><w:tc><w:p><w:r><w:t>in a cell</w:t></w:r></w:p></w:tc></w:tr></w:tbl>' +
    '<w:p><w:r><w:rPr><w:color w:val="FF0000"/></w:rPr><w:t>red</w:t><w:drawing/></w:r></w:p>';
  parts['word/document.xml'] = strToU8(main.replace('</w:body>', `${extra}</w:body>`));
  const { manuscript, losses } = await readDocx(zipSync(parts));
  expect(plainText(manuscript.doc)).toBe('A line.\nin a cell\nred');
  expect(losses).toEqual([
    { what: 'table, its text kept as paragraphs', where: 'text', howMany: 1 },
    { what: 'text colour', where: 'formatting', howMany: 1 },
    { what: 'picture', where: 'text', howMany: 1 },
  ]);
});
