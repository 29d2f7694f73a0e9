import { readFileSync } from 'node:fs';

/**
 * Twenty revisions of one text. The text is the legal code of CC0 1.0, in the public domain, as Debian ships it (package
 * base-files); ten revisions are made by rules, as programs and house styles make them, ten as a hand would.
 */

/** The paragraphs of the text, each in one line. */
export const original: readonly string[] = readFileSync('/usr/share/common-licenses/CC0-1.0', 'utf8')
  .split(/\n\s*\n/)
  .map((paragraph) => paragraph.replace(/\s+/g, ' ').trim())
  .filter(Boolean);

type Revise = (paragraphs: readonly string[]) => string[];

const each =
  (...rules: [was: RegExp | string, now: string][]): Revise =>
  (paragraphs) =>
    paragraphs.map((text) => rules.reduce((now, [was, to]) => now.replaceAll(was, to), text));

/** Replacements that each must find their words once. */
const byHand =
  (...edits: [was: string, now: string][]): Revise =>
  (paragraphs) => {
    const revised = [...paragraphs];
    for (const [was, now] of edits) {
      const at = revised.findIndex((text) => text.includes(was));
      if (at < 0) throw new Error(`“${was}” is not in the text`);
      revised[at] = revised[at]!.replace(was, now);
    }
    return revised;
  };

export const revisions: readonly [name: string, revise: Revise][] = [
  // By rules.
  ['quotation marks', each([/"([^"]*)"/g, '“$1”'])],
  ['and/or to or', each(['and/or', 'or'])],
  ['one word throughout', each([/\bWork\b/g, 'Opus'])],
  ['a term in two words', each([/\bAffirmer\b/g, 'Dedicating Party'])],
  ['shall to will', each([/\bshall\b/g, 'will'])],
  ['commas before and', each([/, and /g, ' and '])],
  ['numbers of clauses', each([/^(\d)\. /g, 'Clause $1: '], [/^([a-z])\. /g, '($1) '])],
  ['small words go', each([/\b(certain|such|any|all) /g, ''])],
  ['a paragraph to the end', (all) => [...all.slice(0, 4), ...all.slice(5), all[4]!]],
  ['every third paragraph goes', (all) => all.filter((_, i) => i % 3 !== 2)],
  // By hand.
  [
    'plain words',
    byHand(
      ['automatically confer exclusive', 'give exclusive'],
      [
        'Certain owners wish to permanently relinquish those rights',
        'Some owners want to give those rights up for good',
      ],
      ['without fear of later claims of infringement', 'without fear of being sued later'],
    ),
  ],
  [
    'a sentence rewritten',
    byHand([
      'These owners may contribute to the Commons to promote the ideal of a free culture',
      'Whoever adds to the Commons does so because culture ought to be free',
    ]),
  ],
  [
    'a sentence more',
    byHand(
      ['knowledge of his or her Copyright', 'full knowledge of his or her Copyright'],
      ['build upon, modify,', 'build upon, change, translate, modify,'],
    ),
  ],
  [
    'he or she',
    byHand(['that he or she is an owner', 'that they are an owner'], ['voluntarily elects', 'freely chooses']),
  ],
  [
    'singular to plural',
    byHand(['an original work of authorship', 'original works of authorship'], ['a database (each', 'databases (each']),
  ],
  [
    'a clause moved',
    byHand(
      [' and without any expectation of additional consideration or compensation,', ','],
      [
        'voluntarily elects to apply',
        'voluntarily elects, without any expectation of additional consideration or compensation, to apply',
      ],
    ),
  ],
  ['two paragraphs joined', (all) => [...all.slice(0, 4), `${all[4]} ${all[5]}`, ...all.slice(6)]],
  ['a paragraph split', (all) => all.flatMap((text, i) => (i === 5 ? text.split(/(?<=\.) /) : [text]))],
  [
    'two words the other way round',
    byHand(
      ['reuse and redistribute', 'redistribute and reuse'],
      ['cultural and scientific works', 'scientific and cultural works'],
    ),
  ],
  ['a new end', (all) => [...all.slice(0, -1), 'This document is read as a whole, and in good faith.']],
];
