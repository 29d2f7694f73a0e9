import { Fragment, type Node } from 'prosemirror-model';
import { StepMap } from 'prosemirror-transform';
import { pairedBlocks } from './paragraphs.js';

/** A node as its words and what it is, whatever is marked in it. */
const bare = (node: Node): Node =>
  node.isText ? node.mark([]) : node.type.create(node.attrs, Fragment.fromArray(node.children.map(bare)));

const sizeOf = (blocks: readonly Node[]): number => blocks.reduce((size, { nodeSize }) => size + nodeSize, 0);

/** The one range in which two contents differ: where it begins, its size on either side. */
function rangeIn(one: Fragment, other: Fragment): [at: number, before: number, after: number] | null {
  const at = one.findDiffStart(other);
  const end = at === null ? null : one.findDiffEnd(other);
  if (at === null || !end) return null;
  // Of words that are there twice, both ends can be taken for the same.
  const overlap = Math.max(0, at - Math.min(end.a, end.b));
  return [at, end.a + overlap - at, end.b + overlap - at];
}

/**
 * Where the places of a text are in another of which nobody knows how it came to be, as after a long absence: where
 * their words are. Marks come and go without moving anything.
 * @returns a map from one to the other; a place whose words are not there any more is beside what stands there now
 */
export function stayed(before: Node, after: Node): StepMap {
  const ranges: number[] = [];
  let [i, j, pos] = [0, 0, 0];
  const ends = [before.childCount, after.childCount] as const;
  for (const [x, y] of [...pairedBlocks(before.children, after.children), ends]) {
    const [gone, come] = [sizeOf(before.children.slice(i, x)), sizeOf(after.children.slice(j, y))];
    if (gone || come) ranges.push(pos, gone, come);
    pos += gone;
    [i, j] = [x + 1, y + 1];
    const [one, other] = [before.maybeChild(x), after.maybeChild(y)];
    if (!one || !other) break;
    const range = one.eq(other) ? null : rangeIn(bare(one).content, bare(other).content);
    if (range) ranges.push(pos + 1 + range[0], range[1], range[2]);
    pos += one.nodeSize;
  }
  return new StepMap(ranges);
}
