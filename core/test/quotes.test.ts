import { counted, plural, quotesOf, schema, typographic, wordCounts } from '../src/index.js';
import { footnote, paragraph, table } from './support/editing.js';

/** Types a text with straight signs, letter by letter. */
const typed = (text: string, language: string) =>
  [...text].reduce((now, sign) => now + (sign === '"' || sign === "'" ? typographic(sign, now, language) : sign), '');

// The marks of each language are those of Unicode CLDR, delimiters; written down from memory.
test.each([
  ['en', `"It's low," she said. "He said 'no'."`, '“It’s low,” she said. “He said ‘no’.”'],
  ['en-GB', `the sands' end ("wet")`, 'the sands’ end (“wet”)'],
  ['de', `"Ebbe", sagt er, "und 'Flut'." Wie geht's?`, '„Ebbe“, sagt er, „und ‚Flut‘.“ Wie geht’s?'],
  ['de-CH', `"Ebbe"`, '«Ebbe»'],
  ['fr', `"marée" et l'eau`, '«\u202fmarée\u202f» et l’eau'],
  ['sv', `"ebb"`, '”ebb”'],
  ['pl', `"odpływ"`, '„odpływ”'],
  ['ru', `"отлив"`, '«отлив»'],
  ['xx', `"a"`, '“a”'],
])('in %s straight signs become its own', (language, text, expected) => {
  expect(typed(text, language)).toBe(expected);
});

test('every language has two pairs, none of them straight', () => {
  for (const language of ['en', 'de', 'fr', 'es', 'it', 'pt-PT', 'nl', 'fi', 'hu', 'uk', 'ja', 'he'])
    for (const pair of Object.values(quotesOf(language))) expect(pair.join('')).not.toMatch(/["']/);
});

test('numbers go with the word that goes with them', () => {
  expect([counted(0, 'change'), counted(1, 'change'), counted(2000, 'change')]).toEqual([
    '0 changes',
    '1 change',
    '2,000 changes',
  ]);
  expect(plural(2, 'person', 'people')).toBe('people');
});

test('words are counted as the text reads when all is accepted, of text, section and selection', () => {
  const { insertion, deletion } = schema.marks;
  const by = { change: 'c', author: 'ann', date: '2026-11-02T09:00:00Z' };
  const changed = schema.nodes.paragraph.create(null, [
    schema.text('one '),
    schema.text('two three ', [deletion.create(by)]),
    schema.text('four', [insertion.create(by)]),
    footnote('in a note'),
  ]);
  const doc = schema.nodes.doc.create(null, [
    paragraph('The title', 'title'),
    paragraph('First', 'heading1'),
    changed,
    table(['a', 'b c']),
    paragraph(''),
    paragraph('Second', 'heading1'),
    paragraph('only these'),
  ]);
  const start = doc.child(0).nodeSize + doc.child(1).nodeSize + 1;
  const { text, section, selected } = wordCounts(doc, start, start + 9);
  expect(text).toBe(2 + 1 + 5 + 3 + 1 + 2);
  expect(section).toEqual({ heading: 'First', words: 1 + 5 + 3 });
  expect(selected).toBe(1);
  expect(wordCounts(doc, start, start).selected).toBe(0);
  // Within the footnote, and from before it into it.
  const note = start + 20;
  expect(doc.textBetween(note, note + 4)).toBe('in a');
  expect([note - 2, note - 6, note + 3].map((from) => wordCounts(doc, from, note + 4).selected)).toEqual([2, 3, 1]);
});
