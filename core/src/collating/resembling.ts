import type { Node } from 'prosemirror-model';
import { wordsIn } from './units.js';

/** Which blocks of two texts are the same but for some of their words. */

/** How alike two blocks must be to be taken for one: what they share of the words of both (the coefficient of Dice, 1945). */
const least = 0.5;
/** How far ahead one looks for a block that resembles. */
const window = 6;

type Bag = ReadonlyMap<string, number>;

function bagOf(node: Node): { bag: Bag; size: number } {
  const bag = new Map<string, number>();
  const words = wordsIn(node);
  for (const word of words) bag.set(word, (bag.get(word) ?? 0) + 1);
  return { bag, size: words.length };
}

/** What else about a block says whether it can be the same as another, of the text before and of the one after. */
export interface BlocksAlso {
  before(block: Node): string;
  after(block: Node): string;
}

/** Pairs of places, each further on than the one before on both sides. */
export type Pairs = [i: number, j: number][];

/** Pairs the blocks of two lists that resemble each other, in their order. */
export function resembling(a: readonly Node[], b: readonly Node[], also: BlocksAlso): Pairs {
  const bags = new Map<Node, ReturnType<typeof bagOf>>();
  const known = (node: Node) => {
    let bag = bags.get(node);
    if (!bag) bags.set(node, (bag = bagOf(node)));
    return bag;
  };
  const likeness = (x: Node, y: Node): number => {
    if (x.type !== y.type || also.before(x) !== also.after(y)) return 0;
    const [one, other] = [known(x), known(y)];
    if (!one.size && !other.size) return 1;
    let both = 0;
    for (const [word, times] of one.bag) both += Math.min(times, other.bag.get(word) ?? 0);
    return (2 * both) / (one.size + other.size);
  };
  /** The best of the places ahead that are equally far. */
  const ahead = (i: number, j: number): [number, number] | null => {
    for (let far = 0; far <= window; far++) {
      let best: [number, number] | null = null;
      let most = least;
      for (let di = 0; di <= far; di++) {
        const [x, y] = [a[i + di], b[j + far - di]];
        const like = x && y ? likeness(x, y) : 0;
        if (like >= most) [best, most] = [[i + di, j + far - di], like];
      }
      if (best) return best;
    }
    return null;
  };
  const pairs: Pairs = [];
  let [i, j] = [0, 0];
  while (i < a.length && j < b.length) {
    const found = ahead(i, j);
    if (found) {
      pairs.push(found);
      [i, j] = [found[0] + 1, found[1] + 1];
      continue;
    }
    const [restA, restB] = [a.length - i, b.length - j];
    if (restA >= restB) i++;
    if (restB >= restA) j++;
  }
  return pairs;
}
