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
  let [start, end] = [0, before.childCount];
  let endAfter = after.childCount;
  // What steps have led to shares with the text before all that they did not touch.
  while (start < Math.min(end, endAfter) && before.child(start) === after.child(start)) start++;
  while (Math.min(end, endAfter) > start && before.child(end - 1) === after.child(endAfter - 1))
    [end, endAfter] = [end - 1, endAfter - 1];
  const [all, allAfter] = [before.children.slice(start, end), after.children.slice(start, endAfter)];
  const ranges: number[] = [];
  let [i, j, pos] = [0, 0, sizeOf(before.children.slice(0, start))];
  for (const [x, y] of [...pairedBlocks(all, allAfter), [all.length, allAfter.length] as const]) {
    const [gone, come] = [sizeOf(all.slice(i, x)), sizeOf(allAfter.slice(j, y))];
    if (gone || come) ranges.push(pos, gone, come);
    pos += gone;
    [i, j] = [x + 1, y + 1];
    const [one, other] = [all[x], allAfter[y]];
    if (!one || !other) break;
    const range = one.eq(other) ? null : rangeIn(bare(one).content, bare(other).content);
    if (range) ranges.push(pos + 1 + range[0], range[1], range[2]);
    pos += one.nodeSize;
  }
  return new StepMap(ranges);
}
