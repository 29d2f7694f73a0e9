import { listNumbers, type ListItem } from '../src/index.js';

const item = (sign: string): ListItem | null =>
  sign === '-' ? null : { kind: sign[0] === 'n' ? 'number' : 'bullet', level: Number(sign[1]) };

test.each<[string, string, string]>([
  ['one list', 'n0 n0 n0', '1 2 3'],
  ['anew behind other text', 'n0 n0 - n0', '1 2 . 1'],
  ['a level in, and on again', 'n0 n1 n1 n0 n1', '1 1 2 2 1'],
  ['bullets between stand for themselves', 'n0 b1 b1 n0', '1 . . 2'],
  ['a bullet above ends what is within', 'b0 n1 b0 n1', '. 1 . 1'],
  ['a bullet of the same level ends a list', 'n0 b0 n0', '1 . 1'],
  ['a list that begins deep', 'n2 n0 n2', '1 1 1'],
  ['what is deeper than the deepest is counted with it', 'n3 n5 n8', '1 2 3'],
])('numbers of list items: %s', (_, signs, numbers) => {
  const said = listNumbers(signs.split(' ').map(item)).map((number) => number ?? '.');
  expect(said.join(' ')).toBe(numbers);
});
