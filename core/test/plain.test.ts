import fc from 'fast-check';
import { plainText, readText, UnreadableFile, writeText } from '../src/index.js';

/** Plain files: encodings are found and said, and what is written back has the line ends and the encoding it came with. */

const latin = (text: string) => Uint8Array.from(text, (sign) => sign.charCodeAt(0));
const wide = (text: string, little: boolean, mark: boolean): Uint8Array => {
  const bytes = Buffer.from(`${mark ? '\ufeff' : ''}${text}`, 'utf16le');
  return new Uint8Array(little ? bytes : bytes.swap16());
};
const utf8 = (text: string) => new TextEncoder().encode(text);
const words = 'Ebbe, flux – “à marée basse”';

const cases: [what: string, bytes: Uint8Array, text: string][] = [
  ['UTF-8', utf8(`${words}\ntwo\n`), `${words}\ntwo`],
  ['UTF-8 with a mark and lines as on paper tape', utf8(`\ufeff${words}\r\ntwo\r\n`), `${words}\ntwo`],
  ['UTF-16, the small end first', wide(`${words}\ntwo\n`, true, true), `${words}\ntwo`],
  ['UTF-16, the big end first', wide(`${words}\r\ntwo\r\n`, false, true), `${words}\ntwo`],
  ['UTF-16 without a mark', wide('High water is at noon.\n', true, false), 'High water is at noon.'],
  ['lines that end with a return', utf8('one\rtwo\r'), 'one\ntwo'],
];
test.each(cases)('%s is read, and written back as it came', async (_, bytes, text) => {
  const { manuscript, losses } = await readText(bytes);
  expect([plainText(manuscript.doc), losses]).toEqual([text, []]);
  expect(await writeText(manuscript)).toEqual(bytes);
});

// WHATWG Encoding, index windows-1252: 0x93 and 0x94 are quotation marks, 0x96 a dash.
test('Windows-1252 is found where the bytes are no UTF-8, and said; copies are in UTF-8', async () => {
  const { manuscript, losses } = await readText(latin('\x93\xe0 mar\xe9e basse\x94 \x96 noon'));
  expect(plainText(manuscript.doc)).toBe('“à marée basse” – noon');
  expect(losses).toEqual([{ what: 'encoding: read as Windows-1252, copies are in UTF-8', where: 'file', howMany: 1 }]);
  expect(await writeText(manuscript)).toEqual(utf8('“à marée basse” – noon\n'));
});

test('what is no text is refused', async () => {
  for (const bytes of [Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0, 1, 2), latin('a\xff\x00b\xfe')]) {
    const problem: unknown = await readText(bytes).then(
      () => null,
      (e: unknown) => e,
    );
    expect(problem).toBeInstanceOf(UnreadableFile);
  }
});

test('any text in any encoding that holds it comes back as it was', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.string({ unit: 'grapheme' }),
      fc.constantFrom('\n', '\r\n'),
      fc.constantFrom(
        utf8,
        (text: string) => wide(text, true, true),
        (text: string) => wide(text, false, true),
      ),
      async (text, lineEnd, encode) => {
        fc.pre(!/[\p{Cc}\u2028\ufeff\ufffe\uffff]/u.test(text));
        const bytes = encode(`${text}${lineEnd}and on.${lineEnd}`);
        const { manuscript } = await readText(bytes);
        expect(plainText(manuscript.doc)).toBe(`${text}\nand on.`);
        expect(await writeText(manuscript)).toEqual(bytes);
      },
    ),
  );
});
