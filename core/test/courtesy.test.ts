import { roughness } from '../src/index.js';

/** The rules are our own; the sentences are ours too. */

const kinds = (text: string) => roughness(text).map(({ kind, from, to }) => [kind, text.slice(from, to)]);

test.each([
  ['THIS IS WRONG', [['shouting', 'THIS IS WRONG']]],
  ['Please do NOT italicise.', [['shouting', 'NOT']]],
  ['Which of the two?!', [['shouting', '?!']]],
  [
    'Wrong page!!',
    [
      ['shouting', '!!'],
      ['terse', 'Wrong page!!'],
    ],
  ],
  ['Fix.', [['terse', 'Fix.']]],
  ['Rewrite this bit', [['terse', 'Rewrite this bit']]],
  ['You always forget the comma here.', [['scolding', 'You always']]],
  ['As I said before, the species name is in italics.', [['scolding', 'As I said']]],
  ['This is obviously the wrong crab.', [['scolding', 'obviously']]],
  ['A sloppy sentence; could it be two?', [['scolding', 'sloppy']]],
  ['Why on earth is the kiln here?', [['scolding', 'Why on earth']]],
])('may hurt: %s', (text, expected) => {
  const found = kinds(text);
  for (const one of expected) expect(found).toContainEqual(one);
  for (const { why } of roughness(text)) expect(why).toMatch(/^\p{Lu}.+\.$/u);
});

test.each([
  'Could this be the shore crab? The carapace in the drawing has five teeth.',
  'Thanks, done.',
  'Yes!',
  'The BBC and the RNLI are named in chapter 2 too.',
  'I would cut “very”.',
  'OK',
  'See ISO 8601 for the date.',
  'Lovely sentence.',
  'Perhaps shorter?',
  '',
])('hurts nobody: %s', (text) => expect(kinds(text)).toEqual([]));

test('places are in order and lie within the text, each named once', () => {
  const text = 'WHY WHY!! As I said: obviously, you never look. NO.';
  const found = roughness(text);
  found.forEach(({ from, to }, i) => {
    expect(from).toBeGreaterThanOrEqual(i ? found[i - 1]!.from : 0);
    expect(to).toBeLessThanOrEqual(text.length);
    expect(to).toBeGreaterThan(from);
  });
  expect(found.length).toBeGreaterThanOrEqual(5);
});
