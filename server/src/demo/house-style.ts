import type { HouseStyle, Rule, RuleKind } from '@tea-pencil/core';

/** How the press of the demo writes, and words that no dictionary has and its authors need. */

const common = 'common practice, no published source';
const rule = (kind: RuleKind, write: string, not: string[], example: string, note = '', source = common): Rule => ({
  ...{ kind, write, not, example, note, source },
});

export const pressStyle: HouseStyle = {
  name: 'The Harrow Press, books for walkers',
  language: 'en-GB',
  rules: [
    rule(
      'words',
      'wrack line',
      ['wrack-line', 'wrackline'],
      'The wrack-line is a ledger.',
      'two words, as the village says it',
    ),
    rule('words', 'grey', ['gray'], 'A gray seal.'),
    rule('words', 'teatime', ['tea time', 'tea-time'], 'Back by tea time.'),
    rule('words', 'tide table', ['tide-table', 'tidetable'], 'Take a tide-table.'),
    rule('words', 'sandhopper', ['sand hopper', 'sand-hopper'], 'A sand-hopper jumps.'),
    rule('words', 'mermaid’s purse', ['mermaids purse'], 'A mermaids purse.'),
    rule(
      'words',
      'north-west',
      ['north west', 'northwest'],
      'The bay faces north west.',
      'points between points have a hyphen',
    ),
    rule('words', 'lime kiln', ['limekiln', 'lime-kiln'], 'By the limekiln.'),
    rule(
      'italics',
      'Saccharina latissima',
      ['Euspira catena', 'Fucus serratus'],
      'Fucus serratus grows here.',
      'names of species',
      'International Code of Zoological Nomenclature, appendix B6; of plants by the same custom',
    ),
    rule(
      'quotation marks',
      'curly',
      [],
      'She said "no".',
      '',
      'Unicode CLDR, delimiters of en-GB, outer pair as the press has it',
    ),
    rule('apostrophe', '’', [], "The sea's edge."),
    rule('dash', ' – ', [], 'The weed—all of it—lies here.', 'with a space on either side'),
    rule('ellipsis', '…', [], 'And then ...'),
    rule(
      'numbers in words',
      'ninety-nine',
      [],
      'We saw 15 turnstones.',
      'not before units, and not of tables and pages',
    ),
    rule('thousands', 'comma', [], 'Some 3000 shells.', '', 'Unicode CLDR, symbols of en-GB'),
    rule(
      'units',
      'no-break space',
      [],
      'It is 4 km long.',
      '',
      'BIPM, The International System of Units, 9th edition, 5.4.3',
    ),
    rule('dates', '3 May 2019', [], 'On May 3, 2019.'),
    rule('expression', '$1–$2', ['(\\d)-(\\d)'], 'Open 10-12.', 'ranges have a dash'),
  ],
};

export const pressWords: readonly string[] = (
  'sandhoppers weever weevers tellin tellins catshark catsharks thornback turnstone turnstones sanderling ' +
  'oystercatcher oystercatchers cuttlebones blue-rayed shoebox'
).split(' ');
