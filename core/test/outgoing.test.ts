import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import {
  barePicture,
  fairReading,
  formats,
  isActive,
  isOfProperties,
  plainText,
  proveFair,
  readDocx,
  readOdt,
  runsOrReachesOutside,
  tracesIn,
  writeDocx,
  writeOdt,
} from '../src/index.js';
import { documentOf } from './support/editing.js';
import { docxOf, p, pixel, r } from './support/package.js';

/** What goes out of a file: no name, nothing that runs or reaches outside; and how it looks stays. */

const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const field = (instruction: string, shows: string) =>
  `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>${instruction.slice(0, 4)}</w:instrText></w:r>` +
  `<w:r><w:instrText>${instruction.slice(4)}</w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>` +
  `${r(shows)}<w:r><w:fldChar w:fldCharType="end"/></w:r>`;

/** A PNG that says in its text who made it (PNG, 3rd edition, 11.3.3.2, keyword Author). */
function signedPng(): Uint8Array {
  const said = strToU8('Author\0Ines Vega');
  const chunk = new Uint8Array(12 + said.length);
  new DataView(chunk.buffer).setUint32(0, said.length);
  chunk.set(strToU8('tEXt'), 4);
  chunk.set(said, 8);
  const end = pixel.length - 12;
  return Uint8Array.from([...pixel.subarray(0, end), ...chunk, ...pixel.subarray(end)]);
}
/** A JPEG with an Exif artist, turned by a quarter (Exif 2.32, tags 315 and 274), a comment, and a scan of three bytes. */
function signedJpeg(): Uint8Array {
  const ifd = [
    0, 2, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0x01, 0x3b, 0, 2, 0, 0, 0, 4, 0x49, 0x6e, 0x65, 0, 0, 0, 0, 0,
  ];
  const exif = [0x45, 0x78, 0x69, 0x66, 0, 0, 0x4d, 0x4d, 0, 42, 0, 0, 0, 8, ...ifd];
  const segment = (marker: number, data: number[]) => [0xff, marker, 0, data.length + 2, ...data];
  const comment = segment(0xfe, [...strToU8('Ines Vega')]);
  return Uint8Array.from([
    0xff,
    0xd8,
    ...segment(0xe1, exif),
    ...comment,
    ...segment(0xdb, [0, 1]),
    0xff,
    0xda,
    0,
    2,
    7,
    0xff,
    0xd9,
  ]);
}

/** A file with everything that names people besides its text, and everything that runs. */
function fullDocx(): Uint8Array {
  const file = docxOf(
    p(
      r('The tide comes in. ') +
        field('DDEAUTO excel "C:\\\\x"', 'Seen.') +
        `<w:hyperlink r:id="bad">${r('Link')}</w:hyperlink>`,
    ) +
      p(r('Second.')) +
      `<w:altChunk r:id="rIdChunk"/>`,
    { media: { 'one.png': signedPng() }, links: { bad: 'javascript:alert(1)', good: 'https://harrow.example/' } },
  );
  const parts = unzipSync(file);
  const rels = strFromU8(parts['word/_rels/document.xml.rels']!);
  const relation = (id: string, type: string, target: string, mode = '') =>
    `<Relationship Id="${id}" Type="${office}/${type}" Target="${target}"${mode}/>`;
  const outside = ' TargetMode="External"';
  const more =
    relation('rIdTemplate', 'attachedTemplate', 'https://elsewhere.example/t.dotm', outside) +
    relation('rIdFar', 'image', 'https://elsewhere.example/pixel.png', outside) +
    relation('rIdMacro', 'vbaProject', 'vbaProject.bin') +
    relation('rIdChunk', 'aFChunk', 'afchunk.html');
  parts['word/_rels/document.xml.rels'] = strToU8(rels.replace('</Relationships>', `${more}</Relationships>`));
  parts['word/document.xml'] = strToU8(
    strFromU8(parts['word/document.xml']!).replace(/<w:p>/g, '<w:p w:rsidR="00AB12CD" w:rsidRDefault="00AB12CD">'),
  );
  parts['word/vbaProject.bin'] = strToU8('macros');
  parts['word/afchunk.html'] = strToU8('<script>alert(1)</script>');
  parts['docProps/thumbnail.png'] = pixel;
  parts['_rels/.rels'] = strToU8(
    strFromU8(parts['_rels/.rels']!).replace(
      '</Relationships>',
      '<Relationship Id="rIdT" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/thumbnail" Target="docProps/thumbnail.png"/></Relationships>',
    ),
  );
  return zipSync(parts);
}

const everything = (bytes: Uint8Array) =>
  Object.entries(unzipSync(bytes))
    .map(([name, content]) => `${name}\n${strFromU8(content, true)}`)
    .join('\n');

test('a fair DOCX names nobody and holds nothing that runs or reaches outside; its words and links that lead somewhere stay', async () => {
  const { manuscript, carried } = await readDocx(fullDocx());
  // It is said as the file comes in.
  expect(carried.filter(({ where }) => where === runsOrReachesOutside).map(({ what }) => what)).toEqual(
    expect.arrayContaining(['macro project', 'template fetched from elsewhere', 'picture fetched from elsewhere']),
  );
  const fair = { ...manuscript, doc: fairReading(manuscript.doc), threads: [] };
  const how = { clean: true, nameless: true, inert: true };
  const bytes = await writeDocx(fair, how);
  await proveFair('docx')(fair, bytes, { inside: 0, ...how });
  const all = everything(bytes);
  for (const gone of [
    'Ines Vega',
    '00AB12CD',
    'macros',
    'alert(1)',
    'elsewhere.example',
    'thumbnail',
    'DDEAUTO',
    'javascript:',
  ])
    expect([gone, all.includes(gone)]).toEqual([gone, false]);
  expect(all).toContain('https://harrow.example/');
  expect(plainText((await readDocx(bytes)).manuscript.doc)).toBe(plainText(fair.doc));
  // As it came, all of that is found by the proof.
  const asItCame = await writeDocx(fair, { clean: true });
  expect(tracesIn('docx', asItCame).filter(isActive).length).toBeGreaterThan(4);
  expect(tracesIn('docx', asItCame).filter(isOfProperties).length).toBeGreaterThan(2);
  await expect(proveFair('docx')(fair, asItCame, { inside: 0, inert: true })).rejects.toThrow(
    /would still run or reach outside/,
  );
});

test('python-docx opens what is left, and finds its paragraphs', async () => {
  const { manuscript } = await readDocx(fullDocx());
  const bytes = await writeDocx({ ...manuscript, threads: [] }, { clean: true, nameless: true, inert: true });
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'outgoing-')), 'fair.docx');
  writeFileSync(file, bytes);
  const script = 'import docx,sys;print([p.text for p in docx.Document(sys.argv[1]).paragraphs])';
  const said = execFileSync('/usr/bin/python3', ['-c', script, file], { encoding: 'utf8' });
  expect(said).toContain('The tide comes in. Seen.');
  expect(said).toContain('Second.');
});

test('an ODT goes out without scripts, pictures from elsewhere, links that run, and its small view', async () => {
  const bytes = await writeOdt({ doc: documentOf('The tide', 'comes in'), people: [], threads: [], assets: [] });
  const parts = unzipSync(bytes);
  const content = strFromU8(parts['content.xml']!);
  parts['content.xml'] = strToU8(
    content
      .replace(
        '<office:automatic-styles',
        '<office:scripts><office:event-listeners/></office:scripts><office:automatic-styles',
      )
      .replace(
        /<text:p([^>]*)>The tide/,
        '<text:p$1 loext:rsid="00ab12cd"><text:a xlink:href="javascript:alert(1)">The</text:a> tide',
      )
      .replace('<office:document-content ', '<office:document-content xmlns:loext="urn:x:loext" '),
  );
  parts['Basic/Standard/Module1.xml'] = strToU8('<x>macros</x>');
  parts['Thumbnails/thumbnail.png'] = pixel;
  const { manuscript, carried } = await readOdt(zipSync(parts, { level: 0 }));
  expect(carried.some(({ where }) => where === runsOrReachesOutside)).toBe(true);
  const how = { clean: true, nameless: true, inert: true };
  const out = await writeOdt(manuscript, how);
  const all = everything(out);
  for (const gone of ['macros', 'javascript:', '00ab12cd', 'Thumbnails/', 'office:scripts'])
    expect([gone, all.includes(gone)]).toEqual([gone, false]);
  await proveFair('odt')(manuscript, out, { inside: 0, ...how });
  expect(plainText((await formats.odt.read(out)).manuscript.doc)).toBe('The tide\ncomes in');
});

describe('pictures', () => {
  test('a PNG loses what it says and keeps every chunk of the picture', () => {
    expect(Buffer.from(barePicture(signedPng())).equals(Buffer.from(pixel))).toBe(true);
    expect(barePicture(pixel)).toBe(pixel);
  });

  test('a JPEG loses artist and comment, and stays turned as it was', () => {
    const bare = barePicture(signedJpeg());
    expect(strFromU8(bare, true)).not.toMatch(/Ine/);
    // Orientation 6 in an Exif of its own; the tables and the scan are as they were.
    expect(Buffer.from(bare).includes(Buffer.from([0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6]))).toBe(true);
    expect([...bare.slice(-13)]).toEqual([0xff, 0xdb, 0, 4, 0, 1, 0xff, 0xda, 0, 2, 7, 0xff, 0xd9]);
    expect(barePicture(bare)).toBe(bare);
  });

  test('a damaged picture comes back as it is', () => {
    for (const bytes of [
      signedPng().subarray(0, 40),
      signedJpeg().subarray(0, 9),
      strToU8('GIF89a'),
      strToU8('RIFF0000WEBP'),
    ])
      expect(barePicture(bytes).length).toBeLessThanOrEqual(bytes.length);
  });
});
