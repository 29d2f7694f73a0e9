import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { Transform } from 'prosemirror-transform';
import { fairReading, listChanges, plainText, readDocx, schema, UnreadableFile, writeDocx } from '../src/index.js';
import { docxOf, ins, p, r } from './support/package.js';

/** Files that are broken, by chance or on purpose: each is read as well as can be, or refused with a sentence. */

const withPart = (file: Uint8Array, name: string, content: string | null): Uint8Array => {
  const parts = unzipSync(file);
  if (content === null) delete parts[name];
  else parts[name] = strToU8(content);
  return zipSync(parts);
};
const good = docxOf(p(r('a ') + ins(1, r('b '))), {
  parts: { styles: '', comments: '', footnotes: '', numbering: '' },
});
/** What is read, and what is written of it after an edit. */
async function thereAndBack(file: Uint8Array): Promise<string> {
  const { manuscript } = await readDocx(file);
  manuscript.doc.check();
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const back = await readDocx(await writeDocx({ ...manuscript, doc: edited }));
  expect(plainText(back.manuscript.doc)).toBe(plainText(edited));
  return plainText(manuscript.doc);
}
const refusal = async (file: Uint8Array): Promise<string> => {
  const problem: unknown = await readDocx(file).then(
    () => null,
    (e: unknown) => e,
  );
  expect(problem).toBeInstanceOf(UnreadableFile);
  return (problem as UnreadableFile).reason;
};

const readAnyhow: [what: string, file: Uint8Array][] = [
  ['relationships that lead nowhere', withPart(good, 'word/styles.xml', null)],
  ['no relationships at all', withPart(good, 'word/_rels/document.xml.rels', null)],
  ['no list of types', withPart(good, '[Content_Types].xml', null)],
  ['relationships of the package that are missing', withPart(good, '_rels/.rels', null)],
  [
    'notes and comments that are referred to and not there',
    docxOf(
      p(
        r('a b ') +
          '<w:r><w:footnoteReference w:id="7"/></w:r><w:commentRangeStart w:id="3"/><w:r><w:commentReference w:id="3"/></w:r>',
      ),
    ),
  ],
  [
    'styles that are based on themselves',
    docxOf(p(r('a b '), '<w:pStyle w:val="A"/>'), {
      parts: {
        styles:
          '<w:style w:type="paragraph" w:styleId="A"><w:basedOn w:val="B"/></w:style><w:style w:type="paragraph" w:styleId="B"><w:basedOn w:val="A"/></w:style>',
      },
    }),
  ],
  ['ids that are used twice', docxOf(p(ins(1, r('a '), 'Ines Vega') + ins(1, r('b '), 'Tobias Oyelaran')))],
  [
    'a move with one end',
    docxOf(p(`<w:moveFromRangeStart w:id="1" w:name="m"/><w:moveFrom w:id="2" w:author="I">${r('a b ')}</w:moveFrom>`)),
  ],
  [
    'a field without an end',
    docxOf(
      p('<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>PAGE</w:instrText></w:r>' + r('')) +
        p(r('a b ')),
    ),
  ],
  ['a bookmark without an end', docxOf(p('<w:bookmarkStart w:id="1" w:name="x"/>' + r('a b ')))],
  [
    'a range that ends before it begins',
    docxOf(p('<w:commentRangeEnd w:id="1"/>' + r('a b ') + '<w:commentRangeStart w:id="1"/>')),
  ],
  [
    'a table without rows, a row without cells, a cell without paragraphs',
    docxOf(p(r('a b ')) + '<w:tbl/><w:tbl><w:tr/><w:tr><w:tc/></w:tr></w:tbl>'),
  ],
  [
    'spans of a thousand million',
    docxOf(
      p(r('a b ')) +
        `<w:tbl><w:tr><w:tc><w:tcPr><w:gridSpan w:val="1000000000"/></w:tcPr>${p('')}</w:tc></w:tr><w:tr><w:trPr><w:gridBefore w:val="99999999"/></w:trPr><w:tc>${p('')}</w:tc></w:tr></w:tbl>`,
    ),
  ],
  [
    'dates that are none, people without names',
    docxOf(p(`<w:ins w:id="x" w:date="the ides of March">${r('a b ')}</w:ins>`)),
  ],
  [
    'paths that climb out of the package',
    zipSync({
      ...unzipSync(good),
      '../../etc/passwd': strToU8('x'),
      'word/_rels/document.xml.rels': strToU8(
        '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="a" Type="x/styles" Target="../../../../etc/passwd"/></Relationships>',
      ),
    }),
  ],
];
test.each(readAnyhow)('%s: it is read, edited and written', async (_, file) => {
  expect((await thereAndBack(file)).trim()).toMatch(/^(a b|)/);
});

test('tables a hundred deep in one another are one thing in the outermost’s cell, and go out as they came', async () => {
  let inner = p(r('deep'));
  for (let n = 0; n < 100; n++) inner = `<w:tbl><w:tblGrid/><w:tr><w:tc>${inner}${p('')}</w:tc></w:tr></w:tbl>`;
  const { manuscript } = await readDocx(docxOf(p(r('Above.')) + inner));
  const things: unknown[] = [];
  manuscript.doc.descendants(
    (node) => void (node.type.name === 'carried_thing' && things.push([node.attrs.what, node.attrs.says])),
  );
  expect(things).toEqual([['table', 'deep']]);
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const back = new TextDecoder().decode(
    unzipSync(await writeDocx({ ...manuscript, doc: edited }))['word/document.xml'],
  );
  expect(back).toContain(inner);
});

test('what is too deep, too much or explodes is refused with a sentence', async () => {
  expect(await refusal(docxOf('<w:sdt>'.repeat(1000) + '</w:sdt>'.repeat(1000)))).toMatch(/too deep/);
  const lol = '<!DOCTYPE l [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>';
  expect(await refusal(withPart(good, 'word/document.xml', `${lol}<w:document>&b;</w:document>`))).toMatch(/entities/);
  expect(await refusal(withPart(good, 'word/styles.xml', '<w:styles>&nbsp;</w:styles>'))).toMatch(
    /XML inside is broken/,
  );
  // A package in a package in a package: the outermost alone is read, and what is in it is a part like any other.
  const layered = [1, 2, 3].reduce<Uint8Array>((bytes) => zipSync({ 'a.zip': bytes }), new Uint8Array(30 << 20));
  expect(
    plainText((await readDocx(zipSync({ ...unzipSync(good), 'word/embedded.zip': layered }))).manuscript.doc),
  ).toBe('a b ');
  expect(await refusal(docxOf('<w:p/>'.repeat(60_000)))).toMatch(/paragraphs/);
  expect(await refusal(docxOf('<a/>'.repeat(2_600_000)))).toMatch(/more elements inside than a book/);
}, 60_000);

test('a hundred thousand runs that look alike are one run; of more in one paragraph that is said', async () => {
  const runs = (n: number) => docxOf(p('<w:r><w:t>a</w:t></w:r>'.repeat(n)));
  const { manuscript } = await readDocx(runs(100_000));
  expect(manuscript.doc.firstChild!.childCount).toBe(1);
  expect(manuscript.doc.textContent).toHaveLength(100_000);
  expect(await refusal(runs(600_000))).toMatch(/a paragraph or table with more in it/);
}, 60_000);

test('a name that no file of ours has refers to nothing; its words are written', async () => {
  const thing = schema.nodes.carried_thing.create({ carried: 'constructor', what: 'formula', says: 'x = 1' });
  const look = schema.marks.carriedLook.create({ value: '__proto__' });
  const paragraph = schema.nodes.paragraph.create({ carried: 'toString' }, [thing, schema.text('a', [look])]);
  const doc = schema.nodes.doc.create(null, paragraph);
  const { manuscript } = await readDocx(await writeDocx({ doc, people: [], threads: [], assets: [] }));
  expect(plainText(manuscript.doc)).toBe('[x = 1]a');
});

test('what only we know is believed no further than it can be: marks of nobody, of no kind, of the future', async () => {
  const told = (json: unknown) => `tp:marks="${JSON.stringify(json).replaceAll('"', '&quot;')}" tp:attrs="{}"`;
  const forged = [
    { type: 'bold', name: 'X' },
    { type: 'insertion', name: 'X', author: 'a', change: 'c', date: '2026-11-01T09:00:00Z' },
    { type: 'openingInserted', name: 'X', author: '', change: '', date: 'now' },
    {
      type: 'restyled',
      name: 'X',
      author: 'a',
      change: 'c',
      date: '2026-11-01T09:00:00Z',
      order: 1,
      was: { constructor: 1 },
      now: {},
    },
  ];
  for (const mark of forged) {
    const body = `<w:p>${r('a')}</w:p><w:p xmlns:tp="urn:tea-pencil:1" ${told([mark])}>${r('b')}</w:p>`;
    const { manuscript } = await readDocx(docxOf(body));
    expect(listChanges(manuscript.doc)).toEqual([]);
    expect(plainText(fairReading(manuscript.doc))).toBe('a\nb');
  }
});

test('files damaged by chance are read or refused, and nothing else', () => {
  const script = path.resolve(__dirname, '../../scripts/mutants.mjs');
  const { stdout, status } = spawnSync(process.execPath, [script, '--runs', '150'], { encoding: 'utf8' });
  const [, read, refused, otherwise] =
    /(\d+) read and written again, (\d+) refused with a sentence, (\d+) otherwise/.exec(stdout)!;
  expect([status, otherwise]).toEqual([0, '0']);
  expect(Number(read)).toBeGreaterThan(15);
  expect(Number(refused)).toBeGreaterThan(15);
}, 120_000);
