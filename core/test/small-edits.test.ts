import { existsSync, readFileSync } from 'node:fs';
import { isSmall, isUnseen, signNames, smallEditWords } from '../src/index.js';

/** Edits of one or two characters, spelled out. */

test('the names are those of the Unicode Character Database (UnicodeData.txt, as Debian’s unicode-data holds it)', () => {
  const file = '/usr/share/unicode/UnicodeData.txt';
  if (!existsSync(file)) throw new Error('Debian’s package unicode-data is missing; npm test installs it.');
  const names = new Map(
    readFileSync(file, 'utf8')
      .split('\n')
      .map((line) => line.split(';'))
      .map(([code = '', name = '']) => [parseInt(code, 16), name.toLowerCase()]),
  );
  for (const [sign, name] of Object.entries(signNames)) {
    expect([...sign]).toHaveLength(1);
    expect([sign, name]).toEqual([sign, names.get(sign.codePointAt(0)!)]);
  }
});

test('a small edit says what went and what came', () => {
  const words = (kind: 'insertion' | 'deletion' | 'replacement' | 'move', before: string, after: string) =>
    smallEditWords({ kind, before, after, objects: [] });
  expect(words('deletion', ',', '')).toBe('comma out');
  expect(words('insertion', '', ' ')).toBe('space in');
  expect(words('deletion', '\t ', '')).toBe('tab and space out');
  expect(words('replacement', '-', '\u00ad')).toBe('hyphen-minus › soft hyphen');
  expect([' \t', '\u00a0', '\u00ad', '\u200b', '', '-', 'a\u00ad'].map(isUnseen)).toEqual([
    true,
    true,
    true,
    true,
    false,
    false,
    false,
  ]);
  expect(words('replacement', '.', '!')).toBe('full stop › exclamation mark');
  expect(words('replacement', '-', '–')).toBe('hyphen-minus › en dash');
  expect(words('insertion', '', ', ')).toBe('comma and space in');
  expect(words('replacement', 't', 'T')).toBe('“t” › “T”');
  expect(words('deletion', 'é', '')).toBe('“é” out');
  expect(words('deletion', 'the', '')).toBeNull();
  expect(words('replacement', '.', ' and')).toBeNull();
  expect(words('move', ',', ',')).toBeNull();
  expect(smallEditWords({ kind: 'insertion', before: '', after: '\ufffc', objects: ['image'] })).toBeNull();
  // As people count characters (UAX #29): a flag and an accented letter are one each.
  expect(['🇫🇷', 'e\u0301', '👩‍🔬!', 'abc', '', '\n'].map(isSmall)).toEqual([true, true, true, false, false, false]);
});
