import { schema } from '../src/index.js';
import { letters } from '../src/row/row.js';
import { initialsOf, plainText, readText, toDate, UnreadableFile, writeText } from '../src/index.js';
import { documentOf, footnote, paragraph, table } from './support/editing.js';

// Unicode UAX #29, table 1a (sample grapheme clusters) and the rules it names.
test.each([
  ['a letter with a combining accent', 'g\u0308', 1],
  ['a Hangul syllable', '\uac01', 1],
  ['conjoining jamo (GB6 to GB8)', '\u1100\u1161\u11a8', 1],
  ['Tamil ni (GB9a)', '\u0ba8\u0bbf', 1],
  ['Thai so sara aa', '\u0e08\u0e33'.slice(0, 1), 1],
  ['an emoji with a skin tone (GB9)', '👍🏽', 1],
  ['a family joined by ZWJ (GB11)', '👩‍👩‍👧', 1],
  ['two flags (GB12)', '🇩🇰🇳🇴', 2],
  ['plain letters', 'tide’s', 6],
  ['Latin letters with marks of their own', 'Ærø', 3],
])('letters are grapheme clusters: %s', (_, text, n) => {
  expect(letters(text)).toHaveLength(n);
  expect(letters(text).join('')).toBe(text);
});

const bytes = (text: string) => new TextEncoder().encode(text);
const manuscript = (text: ReturnType<typeof documentOf>) => ({ doc: text, people: [], threads: [], assets: [] });

test('plain text comes in a line a paragraph, whatever ends its lines, and goes out as it came', async () => {
  for (const end of ['\n', '\r\n', '\r']) {
    const { manuscript: read } = await readText(bytes(['one', '', 'two', ''].join(end)));
    expect(read.doc.children.map((p) => p.textContent)).toEqual(['one', '', 'two']);
    expect(new TextDecoder().decode(await writeText(read))).toBe(['one', '', 'two', ''].join(end));
  }
});

test('what is no UTF-8 is refused', async () => {
  await expect(readText(new Uint8Array([0xff, 0xfe, 0x41]))).rejects.toThrow(UnreadableFile);
});

test('tables give a line a cell, footnotes none, a break within a paragraph its own line', async () => {
  const { doc, line_break: br, paragraph: p } = schema.nodes;
  const noted = p!.create(null, [schema.text('a'), br!.create(), schema.text('b'), footnote('aside')]);
  const text = doc!.create(null, [noted, table(['c', 'd']), paragraph('e')]);
  expect(plainText(text)).toBe('a\u2028b\nc\nd\ne');
  expect(new TextDecoder().decode(await writeText(manuscript(text)))).toBe('a\nb\nc\nd\ne\n');
});

test('initials and dates', () => {
  expect(['Ines Vega', 'Alba', 'Ana de la Mora', ' ', 'émile zola'].map(initialsOf)).toEqual([
    'IV',
    'A',
    'AM',
    '?',
    'ÉZ',
  ]);
  expect(toDate(new Date('2026-11-25T08:09:10.999Z'))).toBe('2026-11-25T08:09:10Z');
});
