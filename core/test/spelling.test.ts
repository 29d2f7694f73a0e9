import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { dictionaryOf, schema, wordToKeep, type DictionaryName } from '../src/index.js';
import { documentOf, paragraph } from './support/editing.js';
import { fileOf, looked, speller, told } from './support/looking.js';

const found = (text: string, language = 'en-GB', spelling: DictionaryName[] = ['en-gb']) =>
  looked(documentOf(text), { language, spelling }).findings.map(({ words }) => words);

test('each language has its dictionary, and none where there is none', () => {
  const tags = ['en', 'en-GB', 'en-AU', 'en-US', 'de-CH', 'fr', 'es-419', 'cy'];
  expect(tags.map(dictionaryOf)).toEqual(['en-gb', 'en-gb', 'en-gb', 'en', 'de', 'fr', 'es', null]);
});

test('words are looked up in the language they are of', () => {
  expect(
    found('The colour of the harbor, a mermaid’s purse, it’s recieved well-known seawater in 1895, BBC and 3rd.'),
  ).toEqual(['harbor', 'recieved']);
  expect(found('The colour of the harbor.', 'en-US', ['en'])).toEqual(['colour']);
  expect(found('Die Gezeitentafel und der Küstenschutz am Strant; wir fahren recht weit.', 'de', ['de'])).toEqual([
    'Strant',
  ]);
  expect(found('L’eau qu’elle voit aujourd’hui, jusqu’à l’arbre du chateau.', 'fr', ['fr'])).toEqual(['chateau']);
  expect(found('Había una playa; dámelo, que rapido.', 'es', ['es'])).toEqual(['rapido']);
  const mixed = schema.node('doc', null, [
    schema.node('paragraph', null, [
      schema.text('The words '),
      schema.text('au bord de la mer', [schema.mark('language', { value: 'fr' })]),
      schema.text(' and '),
      schema.text('ar lan y môr', [schema.mark('language', { value: 'cy' })]),
      schema.text(' mean less.'),
    ]),
  ]);
  const { findings, unread } = looked(mixed, { spelling: ['en-gb', 'fr'] });
  expect(findings).toEqual([]);
  expect(unread).toEqual([{ language: 'cy', words: 3 }]);
  // A text that has no language is not judged by that of another.
  expect(looked(documentOf('recieve'), { language: null, spelling: ['en-gb'] }).findings).toEqual([]);
});

test('names of species in italics, addresses, numbers and capitals are nothing to be spelt', () => {
  const doc = schema.node('doc', null, [
    schema.node('paragraph', null, [
      schema.text('Sugar kelp, '),
      schema.text('Saccharina latissima', [schema.mark('italic')]),
      schema.text(', see www.harrowshore.example/qqzx or RNLI, XIV, 3rd.'),
    ]),
  ]);
  expect(looked(doc, { spelling: ['en-gb'] }).findings).toEqual([]);
});

test('names are learnt by how often and how they stand; one that differs in a letter is asked about', () => {
  const text =
    'We met Vantrel and Vantrel’s boat. Then Vantrel left, and Vantrell came. Of Qoz nothing. At Pelquin, pelquin.';
  const { findings } = looked(documentOf(text), { spelling: ['en-gb'] });
  expect(told(findings)).toEqual([
    'spelling: Vantrell › ',
    'spelling: Qoz › ',
    'spelling: Pelquin › ',
    'spelling: pelquin › ',
  ]);
  const often = documentOf(text, 'So Vantrel and Vantrel, Vantrel and Vantrel.');
  expect(told(looked(often, { spelling: ['en-gb'] }).findings)[0]).toBe('spelling: Vantrell › Vantrel');
  expect([wordToKeep('Vantrel’s'), wordToKeep('Vantrel')]).toEqual(['Vantrel', 'Vantrel']);
});

test('proposals: the words meant, and two words that have run together', () => {
  const { near } = speller('en-gb');
  expect(near('recieve')[0]).toBe('receive');
  expect(near('thebeach')[0]).toBe('the beach');
  expect(near('isnt’')).toContain('isn’t');
  expect(near('x'.repeat(500))).toEqual([]);
});

/**
 * Frequent misspellings with what was meant, as Debian’s package codespell lists them (a word and one correction a line);
 * those of small letters with a correction of one word.
 */
const misspellings = readFileSync('/usr/lib/python3/dist-packages/codespell_lib/data/dictionary.txt', 'utf8')
  .split('\n')
  .flatMap((line) => {
    const [, wrong, right] = /^([a-z]{4,})->([a-z]{4,})$/.exec(line) ?? [];
    return wrong ? [[wrong, right!] as const] : [];
  });

test('of frequent misspellings nearly all are found, and what was meant is among what is proposed for most', () => {
  const { knows, near } = speller('en-gb');
  const american = speller('en');
  // What is meant must be known itself, or the list speaks of words that are in no dictionary (of programs, say).
  const known = misspellings.filter(([, right]) => knows(right) && american.knows(right));
  const passed = known.filter(([wrong]) => knows(wrong) || american.knows(wrong));
  expect(known.length).toBeGreaterThan(20_000);
  expect(passed.length / known.length).toBeLessThan(0.01);
  const some = known.filter(([wrong], i) => i % 400 === 0 && !knows(wrong));
  const meant = some.filter(([wrong, right]) => near(wrong).includes(right));
  console.log(
    `${known.length} misspellings: ${known.length - passed.length} found, ${passed.length} not (${passed.slice(0, 8).join('; ')} …); ` +
      `of ${some.length} the word meant is among the proposals for ${meant.length}.`,
  );
  expect(meant.length / some.length).toBeGreaterThan(0.8);
});

/** What Hunspell itself, from Debian, does not know of some words, with the same dictionary. */
function unknownToHunspell(name: DictionaryName, words: readonly string[]): Set<string> {
  const folder = mkdtempSync(path.join(tmpdir(), 'words-'));
  for (const ending of ['aff', 'dic'] as const) symlinkSync(fileOf(name, ending), path.join(folder, `some.${ending}`));
  const args = ['-d', path.join(folder, 'some'), '-i', 'UTF-8', '-l'];
  const { stdout, status } = spawnSync('hunspell', args, { input: words.join('\n'), encoding: 'utf8' });
  if (status !== 0) throw new Error('hunspell could not be asked.');
  return new Set(stdout.split('\n').filter(Boolean));
}

/** Every so many words of a dictionary, and each of them with a letter too many. */
function someWords(name: DictionaryName): string[] {
  const lines = readFileSync(fileOf(name, 'dic'), 'utf8').split('\n').slice(1);
  const whole = lines.filter((_, i) => i % 97 === 0).map((line) => line.replace(/[/\s].*$/, ''));
  const plain = whole.filter((word) => /^\p{L}{4,}$/u.test(word));
  return plain.flatMap((word) => [word, `${word.slice(0, 2)}q${word.slice(2)}`]);
}

test.each(['en-gb', 'en', 'de', 'fr', 'es'] as const)(
  'Hunspell itself says the same of nearly all words of the dictionary %s, and of those words with a letter too many',
  (name) => {
    const words = someWords(name);
    const unknown = unknownToHunspell(name, words);
    const { knows } = speller(name);
    const other = words.filter((word) => knows(word) === unknown.has(word));
    console.log(`${name}: ${words.length} words, ${other.length} said otherwise (${other.slice(0, 8).join(', ')})`);
    expect(words.length).toBeGreaterThan(500);
    expect(unknown.size).toBeGreaterThan(words.length / 4);
    expect(other.length / words.length).toBeLessThan(0.03);
  },
);

test('a paragraph is none the slower for words that are none', () => {
  const doc = schema.node('doc', null, [paragraph('q'.repeat(100_000)), paragraph(`${'qz '.repeat(20_000)}end`)]);
  expect(looked(doc, { spelling: ['en-gb', 'de'] }).findings.length).toBeGreaterThan(20_000);
});
