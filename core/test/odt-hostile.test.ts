import { strToU8, unzipSync, zipSync } from 'fflate';
import { Transform } from 'prosemirror-transform';
import {
  fairReading,
  listChanges,
  plainText,
  readFodt,
  readOdt,
  schema,
  UnreadableFile,
  writeOdt,
} from '../src/index.js';
import { end, gone, odtOf, region, start, tp, tracked } from './support/odt-package.js';

/** ODT files that are broken, by chance or on purpose: each is read as well as can be, or refused with a sentence. */

const good = odtOf(tp('a b'));
const withPart = (name: string, content: string | null): Uint8Array => {
  const parts = unzipSync(good);
  if (content === null) delete parts[name];
  else parts[name] = strToU8(content);
  return zipSync(parts);
};

async function thereAndBack(file: Uint8Array): Promise<string> {
  const { manuscript } = await readOdt(file);
  manuscript.doc.check();
  fairReading(manuscript.doc).check();
  listChanges(manuscript.doc);
  const edited = new Transform(manuscript.doc).insert(1, schema.text('x ')).doc;
  const back = await readOdt(await writeOdt({ ...manuscript, doc: edited }));
  expect(plainText(back.manuscript.doc)).toBe(plainText(edited));
  return plainText(manuscript.doc);
}

let deep = gone('d0');
const nested = Array.from({ length: 1000 }, (_, n) => region(`d${n}`, 'deletion', tp(gone(`d${n + 1}`))));
deep = tracked(...nested) + tp(`a b${deep}`);

const readAnyhow: [what: string, file: Uint8Array][] = [
  ['no styles', withPart('styles.xml', null)],
  ['no list of parts', withPart('META-INF/manifest.xml', null)],
  ['no type', withPart('mimetype', null)],
  [
    'a list of parts with a document type of old',
    withPart(
      'META-INF/manifest.xml',
      '<!DOCTYPE manifest:manifest PUBLIC "x" "y"><manifest:manifest xmlns:manifest="x"/>',
    ),
  ],
  ['changes that are on no list', odtOf(tp(`a${start('x')} b${end('x')}${gone('y')}`))],
  [
    'a list of changes that nothing refers to',
    odtOf(tracked(region('a', 'insertion'), region('b', 'deletion', tp('lost'))) + tp('a b')),
  ],
  ['a change that ends before it begins', odtOf(tracked(region('a', 'insertion')) + tp(`a ${end('a')}b${start('a')}`))],
  ['a change that never ends', odtOf(tracked(region('a', 'insertion')) + tp(`${start('a')}a b`) + tp('c'))],
  ['what was deleted, twice', odtOf(tracked(region('a', 'deletion', tp(' c'))) + tp(`a b${gone('a')}${gone('a')}`))],
  ['what was deleted in itself', odtOf(tracked(region('a', 'deletion', tp(` c${gone('a')}`))) + tp(`a b${gone('a')}`))],
  ['deletions a thousand deep in one another', odtOf(deep)],
  [
    'one id for two changes',
    odtOf(tracked(region('a', 'insertion'), region('a', 'deletion', tp('c'))) + tp(`${start('a')}a b${end('a')}`)),
  ],
  [
    'styles based on themselves',
    odtOf(tp('a b', 'A'), {
      automatic: '<style:style style:name="A" style:family="paragraph" style:parent-style-name="A"/>',
    }),
  ],
  [
    'a table without rows, a row without cells',
    odtOf(`${tp('a b')}<table:table/><table:table><table:table-row/></table:table>`),
  ],
  [
    'spans of a thousand million',
    odtOf(
      `${tp('a b')}<table:table><table:table-row><table:table-cell table:number-columns-spanned="1000000000" table:number-rows-spanned="99999999"/></table:table-row></table:table>`,
    ),
  ],
  [
    'an annotation without an author, a date that is none',
    odtOf(tp('a b<office:annotation><dc:date>the ides of March</dc:date></office:annotation>')),
  ],
  ['an annotation that only ends', odtOf(tp('a b<office:annotation-end office:name="x"/>'))],
  [
    'a picture out of the package',
    odtOf(tp('a b<draw:frame><draw:image xlink:href="../../etc/passwd"/></draw:frame>')),
  ],
  [
    'a note in a note',
    odtOf(
      tp(
        'a b<text:note text:note-class="footnote"><text:note-body><text:p>x<text:note text:note-class="footnote"><text:note-body><text:p>y</text:p></text:note-body></text:note></text:p></text:note-body></text:note>',
      ),
    ),
  ],
  ['a list item in nothing', odtOf(`${tp('a b')}<text:list-item>${tp('c')}</text:list-item>`)],
  ['spaces by the thousand million', odtOf(tp('a b<text:s text:c="1000000000"/>'))],
];
test.each(readAnyhow)('%s: it is read, edited and written', async (_, file) => {
  expect((await thereAndBack(file)).trim()).toMatch(/^a b/);
});

const refusal = async (file: Uint8Array, read = readOdt): Promise<string> => {
  const problem: unknown = await read(file).then(
    () => null,
    (e: unknown) => e,
  );
  expect(problem).toBeInstanceOf(UnreadableFile);
  return (problem as UnreadableFile).reason;
};
const flat = (inner: string) =>
  strToU8(`<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" ${inner}`);

const refused: [what: string, reason: RegExp, file: Uint8Array, read?: typeof readOdt][] = [
  ['an empty one', /is empty/, new Uint8Array()],
  ['something else', /is no package/, strToU8('%PDF-1.7')],
  ['one cut short', /cut short/, good.slice(0, 700)],
  ['a package without text', /it has no text/, zipSync({ 'a.xml': strToU8('<a/>') })],
  ['a sheet of numbers', /but no text/, withPart('mimetype', 'application/vnd.oasis.opendocument.spreadsheet')],
  ['a book in another format', /says it is another/, withPart('mimetype', 'application/epub+zip')],
  [
    'one with a password',
    /locked with a password/,
    withPart('META-INF/manifest.xml', '<manifest:manifest><manifest:encryption-data/></manifest:manifest>'),
  ],
  ['broken XML', /XML inside is broken/, withPart('content.xml', '<office:document-content><office:body>')],
  [
    'entities from outside',
    /declares entities/,
    withPart('content.xml', '<!DOCTYPE d [<!ENTITY x SYSTEM "file:///etc/passwd">]><d>&x;</d>'),
  ],
  [
    'a drawing',
    /but no text/,
    withPart(
      'content.xml',
      '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"><office:body><office:drawing/></office:body></office:document-content>',
    ),
  ],
  [
    'elements four hundred deep',
    /too deep/,
    odtOf('<text:section>'.repeat(450) + tp('a') + '</text:section>'.repeat(450)),
  ],
  ['an empty text in one piece', /is empty/, new Uint8Array(), readFodt],
  ['words in one piece', /no OpenDocument text in one piece/, strToU8('Once upon a time'), readFodt],
  [
    'a sheet in one piece',
    /but no text/,
    flat('office:mimetype="application/vnd.oasis.opendocument.spreadsheet"/>'),
    readFodt,
  ],
];
test.each(refused)('%s is refused', async (_, reason, file, read = readOdt) => {
  expect(await refusal(file, read)).toMatch(reason);
});
