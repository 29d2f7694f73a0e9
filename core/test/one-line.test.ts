import { inOneLine, type Piece } from '../src/index.js';

/** "a «b» c" as pieces, what stands between « and » set off. */
const pieces = (words: string): Piece[] =>
  words
    .split(/[«»]/)
    .map((text, i) => ({ text, changed: i % 2 === 1 }))
    .filter(({ text, changed }) => text || changed);
const signs = { same: '', gone: '-', come: '+', about: '~' };

test.each<[string, string, string, string]>([
  ['an insertion', 'The «» crabs.', 'The «brown» crabs.', 'The |+brown| crabs.'],
  ['a deletion', 'The « wet»crabs.', 'The «»crabs.', 'The |- wet|crabs.'],
  ['a replacement', 'The «wet» crabs.', 'The «brown» crabs.', 'The |-wet|+brown| crabs.'],
  ['what only looks otherwise', 'The «crabs».', 'The «crabs».', 'The |~crabs|.'],
  ['one that is all there is', '«»', '«All new.»', '+All new.'],
  [
    'one in several places',
    'The «wet» crabs «wait».',
    'The «» crabs «hide».',
    'The |-wet| crabs |-wait| crabs |+hide|.',
  ],
])('%s in one line', (_, before, after, line) => {
  const said = inOneLine({ before: pieces(before), after: pieces(after) });
  expect(said.map(({ text, is }) => signs[is] + text).join('|')).toBe(line);
});
