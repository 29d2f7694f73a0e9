import {
  beforeReading,
  decide,
  fairReading,
  listChanges,
  noDate,
  plainText,
  readDocx,
  schema,
  writeDocx,
} from '../src/index.js';
import { Transform } from 'prosemirror-transform';
import { anew } from './support/anew.js';
import { by, del, docxOf, ins, p, r } from './support/package.js';

/** Each kind of change of WordprocessingML (ISO/IEC 29500-1, 17.13.5), in a file made by hand for its section. */

const me = 'Ines Vega';
type Told = [kind: string, before: string, after: string];

const table = (rows: string) =>
  `${p(r('Above.'))}<w:tbl><w:tblPr/><w:tblGrid><w:gridCol w:w="1"/><w:gridCol w:w="1"/></w:tblGrid>${rows}</w:tbl>${p(r('Below.'))}`;
const row = (cells: string[], properties = '') =>
  `<w:tr>${properties && `<w:trPr>${properties}</w:trPr>`}${cells.join('')}</w:tr>`;
const cell = (text: string, properties = '') =>
  `<w:tc>${properties && `<w:tcPr>${properties}</w:tcPr>`}${p(text && r(text))}</w:tc>`;

const cases: [section: string, body: string, told: Told[], fair: string, before: string][] = [
  ['17.13.5.18 ins: a run is inserted', p(r('a ') + ins(1, r('b '))), [['insertion', '', 'b ']], 'a b ', 'a '],
  ['17.13.5.14 del: a run is deleted', p(r('a ') + del(1, 'b ')), [['deletion', 'b ', '']], 'a ', 'a b '],
  [
    '17.13.5.14 in 17.13.5.18: what one inserted, another deletes',
    p(r('a ') + ins(1, del(2, 'b ', 'Tobias Oyelaran'))),
    [
      ['insertion', '', 'b '],
      ['deletion', 'b ', ''],
    ],
    'a ',
    'a ',
  ],
  [
    '17.13.5.20 ins of a paragraph mark: a paragraph is split',
    p(r('a'), `<w:rPr><w:ins ${by(1, me)}/></w:rPr>`) + p(r('b')),
    [['paragraph', '', '\n']],
    'a\nb',
    'ab',
  ],
  [
    '17.13.5.15 del of a paragraph mark: two are joined',
    p(r('a'), `<w:rPr><w:del ${by(1, me)}/></w:rPr>`) + p(r('b')),
    [['paragraph', '\n', '']],
    'ab',
    'a\nb',
  ],
  [
    '17.13.5.31 rPrChange: a run looks otherwise',
    p(`<w:r><w:rPr><w:i/><w:rPrChange ${by(1, me)}><w:rPr><w:b/></w:rPr></w:rPrChange></w:rPr><w:t>a</w:t></w:r>`),
    [['formatting', 'a', 'a']],
    'a',
    'a',
  ],
  [
    '17.13.5.29 pPrChange: a paragraph is set otherwise',
    p(r('a'), `<w:jc w:val="center"/><w:pPrChange ${by(1, me)}><w:pPr/></w:pPrChange>`),
    [['paragraph', '', '']],
    'a',
    'a',
  ],
  [
    '17.13.5.22 and 25 moveFrom and moveTo: one change with two ends',
    p(
      `<w:moveFromRangeStart w:id="1" w:name="m" ${by(9, me).replace('w:id="9" ', '')}/><w:moveFrom ${by(2, me)}>${r('b ')}</w:moveFrom><w:moveFromRangeEnd w:id="1"/>${r('a ')}` +
        `<w:moveToRangeStart w:id="3" w:name="m" ${by(9, me).replace('w:id="9" ', '')}/><w:moveTo ${by(4, me)}>${r('b ')}</w:moveTo><w:moveToRangeEnd w:id="3"/>`,
    ),
    [['move', 'b ', 'b ']],
    'a b ',
    'b a ',
  ],
  [
    '17.13.5.17 ins of a table row',
    table(row([cell('1'), cell('2')]) + row([cell('3'), cell('4')], `<w:ins ${by(1, me)}/>`)),
    [['table', '', '3 4']],
    'Above.\n1\n2\n3\n4\nBelow.',
    'Above.\n1\n2\nBelow.',
  ],
  [
    '17.13.5.12 del of a table row',
    table(row([cell('1'), cell('2')]) + row([cell('3'), cell('4')], `<w:del ${by(1, me)}/>`)),
    [['table', '3 4', '']],
    'Above.\n1\n2\nBelow.',
    'Above.\n1\n2\n3\n4\nBelow.',
  ],
  [
    '17.13.5.2 cellIns: a column is inserted',
    table(
      row([cell('1'), cell('2', `<w:cellIns ${by(1, me)}/>`)]) +
        row([cell('3'), cell('4', `<w:cellIns ${by(2, me)}/>`)]),
    ),
    [['table', '', '24']],
    'Above.\n1\n2\n3\n4\nBelow.',
    'Above.\n1\n3\nBelow.',
  ],
  [
    '17.13.5.1 cellDel: a column is deleted',
    table(
      row([cell('1'), cell('2', `<w:cellDel ${by(1, me)}/>`)]) +
        row([cell('3'), cell('4', `<w:cellDel ${by(2, me)}/>`)]),
    ),
    [['table', '24', '']],
    'Above.\n1\n3\nBelow.',
    'Above.\n1\n2\n3\n4\nBelow.',
  ],
  [
    '17.13.5.36 tcPrChange: a cell is set otherwise',
    table(
      row([
        cell('1', `<w:shd w:val="clear" w:fill="EEEEEE"/><w:tcPrChange ${by(1, me)}><w:tcPr/></w:tcPrChange>`),
        cell('2'),
      ]),
    ),
    [['table', '', '']],
    'Above.\n1\n2\nBelow.',
    'Above.\n1\n2\nBelow.',
  ],
  [
    '17.13.5.37 trPrChange: a row is set otherwise',
    table(row([cell('1'), cell('2')], `<w:cantSplit/><w:trPrChange ${by(1, me)}><w:trPr/></w:trPrChange>`)),
    [['table', '', '']],
    'Above.\n1\n2\nBelow.',
    'Above.\n1\n2\nBelow.',
  ],
];

const readChanges = async (file: Uint8Array) => {
  const { manuscript, losses } = await readDocx(file);
  expect(losses).toEqual([]);
  const told = listChanges(manuscript.doc).map(({ kind, before, after }): Told => [kind, before, after]);
  return { manuscript, told };
};

test.each(cases)('%s', async (_, body, told, fair, before) => {
  const file = docxOf(body);
  const { manuscript, told: found } = await readChanges(file);
  expect(found).toEqual(told);
  expect(listChanges(manuscript.doc)[0]).toMatchObject({ date: '2026-11-02T10:00:00Z' });
  expect(plainText(fairReading(manuscript.doc))).toBe(fair);
  expect(plainText(beforeReading(manuscript.doc))).toBe(before);
  // Written anew, nothing of it is lost.
  const again = await readChanges(await writeDocx(anew(manuscript)));
  expect(again.told).toEqual(told);
  // Decided, nothing is pending, and what was set is set.
  for (const verdict of ['accept', 'reject'] as const) {
    const decided = decide(new Transform(manuscript.doc), 'all', verdict).doc;
    const final = await readChanges(await writeDocx({ ...manuscript, doc: decided }, { clean: true }));
    expect(final.told).toEqual([]);
    expect(plainText(final.manuscript.doc)).toBe(verdict === 'accept' ? fair : before);
  }
});

test('a change without a date has none, and goes out without one', async () => {
  const file = docxOf(p(r('a ') + `<w:ins w:id="1" w:author="${me}">${r('b')}</w:ins>`));
  const { manuscript } = await readDocx(file);
  expect(listChanges(manuscript.doc)[0]!.date).toBe(noDate);
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const { manuscript: again } = await readDocx(await writeDocx({ ...manuscript, doc: edited }));
  expect(listChanges(again.doc)[0]!.date).toBe(noDate);
});

test('a moment without a zone is the same wherever it is read', async () => {
  const file = docxOf(p(`<w:ins w:id="1" w:author="${me}" w:date="2026-11-02T10:00:00">${r('b')}</w:ins>`));
  expect(listChanges((await readDocx(file)).manuscript.doc)[0]!.date).toBe('2026-11-02T10:00:00Z');
});

test('a main text of another name is found through the package, in the strict class too (ISO/IEC 29500-2, 6.5; 29500-1, annex A)', async () => {
  const { unzipSync, zipSync, strToU8, strFromU8 } = await import('fflate');
  const parts = unzipSync(docxOf(p(r('a ') + ins(1, r('b')))));
  const strict = (xml: string) =>
    xml
      .replaceAll(
        'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
        'http://purl.oclc.org/ooxml/wordprocessingml/main',
      )
      .replaceAll(
        'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
        'http://purl.oclc.org/ooxml/officeDocument/relationships',
      );
  const moved: Record<string, Uint8Array> = {};
  for (const [name, bytes] of Object.entries(parts))
    moved[name.replace('word/', 'text/').replace('document.xml', 'body.xml')] = strToU8(
      strict(strFromU8(bytes)).replace('word/document.xml', 'text/body.xml'),
    );
  const { manuscript, told } = await readChanges(zipSync(moved));
  expect(told).toEqual([['insertion', '', 'b']]);
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const back = await writeDocx({ ...manuscript, doc: edited });
  expect(Object.keys(unzipSync(back))).toEqual(Object.keys(moved));
  expect((await readChanges(back)).told).toEqual([['insertion', '', 'b']]);
});

test('names of other prefixes mean what they mean, and what is written there is understood (Namespaces in XML 1.0)', async () => {
  const { unzipSync, zipSync, strToU8, strFromU8 } = await import('fflate');
  const parts = unzipSync(docxOf(p(r('a ') + ins(1, r('b')), '<w:keepNext/>')));
  const main = strFromU8(parts['word/document.xml']!);
  parts['word/document.xml'] = strToU8(
    main.replaceAll('w:', 'ww:').replace('xmlns:w=', 'xmlns:ww=').replace('mc:Ignorable="ww14 ww15"', ''),
  );
  const { manuscript, told } = await readChanges(zipSync(parts));
  expect(told).toEqual([['insertion', '', 'b']]);
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const back = await readChanges(await writeDocx({ ...manuscript, doc: edited }));
  expect(plainText(fairReading(back.manuscript.doc))).toBe('x a b');
  expect(back.manuscript.doc.firstChild!.attrs.carried).toBe(manuscript.doc.firstChild!.attrs.carried);
});

test('a dropped capital is one word with what follows it, and dropped again when it is written (17.3.1.11)', async () => {
  const cap = p(
    r('T', '<w:position w:val="-9"/><w:sz w:val="97"/>'),
    '<w:keepNext/><w:framePr w:dropCap="drop" w:lines="3" w:wrap="around"/>',
  );
  const file = docxOf(cap + p(r('he tide ') + ins(1, r('comes'))));
  const { manuscript } = await readChanges(file);
  expect(plainText(manuscript.doc)).toBe('The tide comes');
  const edited = new Transform(manuscript.doc).insert(plainText(manuscript.doc).length + 1, schema.text('.')).doc;
  const back = await writeDocx({ ...manuscript, doc: edited });
  const { partOf } = await import('./support/package.js');
  expect(partOf(back, 'word/document.xml')).toContain(
    cap.replace('<w:t xml:space="preserve">', '<w:t xml:space="preserve">'),
  );
  expect(plainText((await readChanges(back)).manuscript.doc)).toBe('The tide comes.');
});

test('where a prefix of ours stands for something else, the file is read, and nothing is written into it', async () => {
  const { unzipSync, zipSync, strToU8, strFromU8 } = await import('fflate');
  const parts = unzipSync(docxOf(p(r('a ') + ins(1, r('b')))));
  const main = strFromU8(parts['word/document.xml']!);
  parts['word/document.xml'] = strToU8(
    main
      .replaceAll('w:', 'ww:')
      .replace('xmlns:w=', 'xmlns:w="urn:other" xmlns:ww=')
      .replace('mc:Ignorable="ww14 ww15"', ''),
  );
  const { manuscript, losses } = await readDocx(zipSync(parts));
  expect(manuscript.origin).toBeUndefined();
  expect(losses).toEqual([expect.objectContaining({ where: 'parts' })]);
  const again = await readChanges(await writeDocx(manuscript));
  expect(again.told).toEqual([['insertion', '', 'b']]);
});
