import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { strToU8 } from 'fflate';
import {
  isPassphrase,
  olderSecret,
  protectionOf,
  readDocx,
  readHtml,
  readMarkdown,
  readOdt,
  schema,
  writeDocx,
  type Digest,
} from '../src/index.js';
import { odtOf, tp } from './support/odt-package.js';
import { docxOf, p, partOf, r } from './support/package.js';

/** What a file says of itself: that nobody is to edit it unrecorded without a passphrase, and its title. */

const digest: Digest = (algorithm, bytes) =>
  createHash(algorithm.toLowerCase().replace('-', '')).update(bytes).digest();
const how = { algorithm: 'SHA-512', salt: 'WkhSdnRRd3BKY2hlY2shIQ==', spins: 1000 } as const;
const settings = (attributes: string, around: [string, string] = ['', '']) => ({
  parts: {
    settings: `${around[0]}<w:documentProtection w:edit="trackedChanges" w:enforcement="1" ${attributes}/>${around[1]}`,
  },
});
const manuscript = {
  doc: schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, schema.text('Tides.'))),
  people: [],
  threads: [],
  assets: [],
};

test('a passphrase is known again, and no other passes for it', () => {
  const kept = protectionOf('Flut und Ebbe, 3 °C', how, digest);
  expect(isPassphrase('Flut und Ebbe, 3 °C', kept, digest)).toBe(true);
  for (const other of ['', 'Flut und Ebbe, 3 °c', 'Flut und Ebbe, 3 °C ', 'x'.repeat(10_000)])
    expect([other.slice(0, 20), isPassphrase(other, kept, digest)]).toEqual([other.slice(0, 20), false]);
});

test('what we write is what another reader of the standard finds, and hashes as 17.15.1.29 says', async () => {
  const passphrase = 'high water, 4 July';
  const protection = protectionOf(passphrase, how, digest);
  const file = await writeDocx(manuscript, { protection });
  expect((await readDocx(file)).protection).toEqual(protection);
  // python-docx reads the settings; Python’s own hashlib does what the clause says, step by step.
  const script = `
import sys, io, json, base64, hashlib, docx
from docx.oxml.ns import qn
one = docx.Document(io.BytesIO(sys.stdin.buffer.read())).settings.element.find(qn('w:documentProtection'))
said = {k.split('}')[1]: v for k, v in one.attrib.items()}
h = hashlib.sha512(base64.b64decode(said['saltValue']) + ${JSON.stringify(passphrase)}.encode('utf-16-le')).digest()
for i in range(int(said['spinCount'])): h = hashlib.sha512(h + i.to_bytes(4, 'little')).digest()
print(json.dumps([said['edit'], said['enforcement'], said['algorithmName'], base64.b64encode(h).decode() == said['hashValue']]))`;
  const found = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script], { input: file }).toString()) as unknown;
  expect(found).toEqual(['trackedChanges', '1', 'SHA-512', true]);
});

test('the hash of the transitional class: sixteen bits of it turn by the polynomial of V.41, as its tables say', () => {
  // Two rows of the table of ISO/IEC 29500-4, 14.8.1, for the last letter and the one before (from memory).
  const lastLetter = [0x1021, 0x2042, 0x4084, 0x8108, 0x1231, 0x2462, 0x48c4];
  const secondLast = [0x3331, 0x6662, 0xccc4, 0x89a9, 0x0373, 0x06e6, 0x0dcc];
  const firstOfTwo = 0x1d0f;
  const high = (letters: string) => {
    const bytes = olderSecret(letters)
      .match(/../g)!
      .map((digits) => parseInt(digits, 16));
    return (bytes[3]! << 8) | bytes[2]!;
  };
  const bits = (letter: string, row: number[]) =>
    row.reduce((sum, number, bit) => (letter.charCodeAt(0) & (1 << bit) ? sum ^ number : sum), 0);
  for (const [a, b] of ['ab', 'zZ', '7~'].map((two) => [...two] as [string, string]))
    expect(high(a + b)).toBe(firstOfTwo ^ bits(a, secondLast) ^ bits(b, lastLetter));
  expect(olderSecret('fifteen letters and more')).toBe(olderSecret('fifteen letters and others'));
  expect(olderSecret('')).toBe('00000000');
});

test('files of both classes: names and numbers of hashes, with the passphrase itself or the older secret', async () => {
  const sha1 = { algorithm: 'SHA-1', salt: 'c2FsdHNhbHQ=', spins: 50 } as const;
  const strict = protectionOf('low water', how, digest);
  const older = protectionOf(olderSecret('low water'), sha1, digest);
  const files = [
    [
      strict,
      `w:algorithmName="SHA-512" w:hashValue="${strict.hash}" w:saltValue="${how.salt}" w:spinCount="${how.spins}"`,
    ],
    [
      older,
      `w:cryptAlgorithmClass="hash" w:cryptAlgorithmType="typeAny" w:cryptAlgorithmSid="4" w:cryptSpinCount="50" w:hash="${older.hash}" w:salt="${sha1.salt}"`,
    ],
  ] as const;
  for (const [meant, attributes] of files) {
    const { protection, losses } = await readDocx(docxOf(p(r('a')), settings(attributes)));
    expect([protection, losses]).toEqual([meant, []]);
    expect(isPassphrase('low water', meant, digest)).toBe(true);
    expect(isPassphrase('high water', meant, digest)).toBe(false);
  }
});

test('what is no such protection, or one that cannot be checked, keeps nobody out', async () => {
  const of = async (attributes: string) => {
    const { protection, losses } = await readDocx(docxOf(p(r('a')), settings(attributes)));
    return [protection, losses.map(({ what }) => what)];
  };
  expect(await of('')).toEqual(['without passphrase', []]);
  for (const odd of [
    'w:algorithmName="MD4" w:hashValue="AAAA" w:saltValue="AAAA" w:spinCount="1"',
    'w:algorithmName="SHA-512" w:hashValue="no base64!" w:saltValue="AAAA" w:spinCount="1"',
    'w:algorithmName="SHA-512" w:hashValue="AAAA" w:saltValue="AAAA" w:spinCount="4000000000"',
    'w:cryptAlgorithmSid="99" w:hash="AAAA" w:salt="AAAA"',
  ])
    expect([odd, ...(await of(odd))]).toEqual([
      odd,
      'without passphrase',
      ['passphrase that cannot be checked: everyone in pencil, and keepers can lift it'],
    ]);
  const beside = (xml: string) => readDocx(docxOf(p(r('a')), { parts: { settings: xml } }));
  expect((await beside('<w:documentProtection w:edit="readOnly" w:enforcement="1"/>')).protection).toBeUndefined();
  expect(
    (await beside('<w:documentProtection w:edit="trackedChanges" w:enforcement="0"/>')).protection,
  ).toBeUndefined();
  const broken = docxOf(p(r('a')), { parts: { settings: '<w:zoom' } });
  expect((await readDocx(broken)).protection).toBeUndefined();
  expect(
    (await readDocx(await writeDocx((await readDocx(broken)).manuscript, { protection: null }))).manuscript,
  ).toBeTruthy();
});

test('a file that came in keeps its settings: put in where the order of the standard has it, taken out, or left alone', async () => {
  const around: [string, string] = ['<w:zoom w:percent="90"/><w:trackRevisions/>', '<w:defaultTabStop w:val="708"/>'];
  const first = protectionOf('one', how, digest);
  const attributes = `w:algorithmName="SHA-512" w:hashValue="${first.hash}" w:saltValue="${how.salt}" w:spinCount="1000"`;
  const file = docxOf(p(r('a')), settings(attributes, around));
  const read = await readDocx(file);
  expect(read.protection).toEqual(first);
  // Byte for byte, where the same is asked for or nothing is said.
  expect(await writeDocx(read.manuscript, { protection: first })).toBe(read.manuscript.origin!.file);
  expect(await writeDocx(read.manuscript)).toBe(read.manuscript.origin!.file);
  const without = await writeDocx(read.manuscript, { protection: null });
  expect(partOf(without, 'word/settings.xml')).toMatch(/<w:trackRevisions\/><w:defaultTabStop/);
  expect((await readDocx(without)).protection).toBeUndefined();
  const second = protectionOf('two', { ...how, salt: 'dHdvdHdv' }, digest);
  for (const from of [file, without]) {
    const again = await writeDocx((await readDocx(from)).manuscript, { protection: second });
    const xml = partOf(again, 'word/settings.xml');
    expect(xml.match(/<w:(\w+)(?= )|<w:trackRevisions/g)!.slice(-4)).toEqual([
      '<w:zoom',
      '<w:trackRevisions',
      '<w:documentProtection',
      '<w:defaultTabStop',
    ]);
    expect((await readDocx(again)).protection).toEqual(second);
    expect(partOf(again, 'word/document.xml')).toBe(partOf(file, 'word/document.xml'));
  }
});

test('the title that a file gives itself, in every format that has a place for one', async () => {
  const core =
    '<?xml version="1.0"?><cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title> The  Wrack &amp;\nLine </dc:title></cp:coreProperties>';
  const leads =
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>';
  const docx = (xml: string) => docxOf(p(r('a')), { others: { 'docProps/core.xml': xml, '_rels/.rels': leads } });
  expect((await readDocx(docx(core))).title).toBe('The Wrack & Line');
  expect((await readDocx(docx(core.replace(' The  Wrack &amp;\nLine ', '  ')))).title).toBeUndefined();
  expect((await readDocx(docx('<broken'))).title).toBeUndefined();
  const meta =
    '<?xml version="1.0"?><office:document-meta xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:dc="http://purl.org/dc/elements/1.1/"><office:meta><dc:title>The Wrack Line</dc:title></office:meta></office:document-meta>';
  expect((await readOdt(odtOf(tp('a'), { others: { 'meta.xml': meta } }))).title).toBe('The Wrack Line');
  expect((await readOdt(odtOf(tp('a')))).title).toBeUndefined();
  const html = '<!doctype html><title>The Wrack Line</title><svg><title>no</title></svg><p>a';
  expect((await readHtml(strToU8(html))).title).toBe('The Wrack Line');
  const md = (front: string) => readMarkdown(strToU8(`---\n${front}\n---\n\n# A heading\n`));
  expect((await md('author: Ines\ntitle: "The Wrack: Line"')).title).toBe('The Wrack: Line');
  expect((await md('author: Ines')).title).toBeUndefined();
});
