import type { Node } from 'prosemirror-model';
import { regionOf } from '../row/row.js';
import { isFixed, type Regions } from '../row/touched.js';
import { resembling, type BlocksAlso, type Pairs } from './resembling.js';
import { sharedKeys } from './shared.js';

/** Which stretches of two texts differ: blocks first, then what they are made of. */

/** How many blocks may come and go among each other and still be laid beside those that stayed. */
const most = 2500;

/** A run of blocks on both sides, `i0` up to but not including `i1` before and `j0` up to `j1` after. */
export interface Stretch {
  i0: number;
  i1: number;
  j0: number;
  j1: number;
}

/** A stretch that differs, and which blocks of both texts it is made of. */
export interface Part extends Regions {
  first: number;
  end: number;
  firstAfter: number;
  endAfter: number;
}

const nothing: BlocksAlso = { before: () => '', after: () => '' };

/** Pairs that have the same key, and between them those that resemble each other. */
export function pairedBlocks(a: readonly Node[], b: readonly Node[], also = nothing): Pairs {
  const numbers = new Map<string, number>();
  const keys = (nodes: readonly Node[], more: (block: Node) => string) =>
    nodes.map((node) => {
      const key = `${more(node)} ${node.type.name} ${node.textContent}`;
      const number = numbers.get(key) ?? numbers.size;
      numbers.set(key, number);
      return number;
    });
  const partner = sharedKeys(keys(a, also.before), keys(b, also.after), most);
  const pairs: Pairs = [];
  let [i, j] = [0, 0];
  const between = (endA: number, endB: number) => {
    for (const [x, y] of resembling(a.slice(i, endA), b.slice(j, endB), also)) pairs.push([i + x, j + y]);
  };
  partner.forEach((there, here) => {
    if (there < 0) return;
    between(here, there);
    pairs.push([here, there]);
    [i, j] = [here + 1, there + 1];
  });
  between(a.length, b.length);
  return pairs;
}

/** The stretches that differ. Blocks that resemble each other are one, together with what came or went beside them. */
function stretches(a: readonly Node[], b: readonly Node[], also?: BlocksAlso): Stretch[] {
  const found: Stretch[] = [];
  let open = null as Stretch | null;
  let [i, j] = [0, 0];
  const close = () => {
    if (open) found.push(open);
    open = null;
  };
  for (const [x, y] of [...pairedBlocks(a, b, also), [a.length, b.length] as const]) {
    const left = x > i || y > j;
    if (left) open = { ...(open ?? { i0: i, j0: j }), i1: x, j1: y };
    const same = x === a.length || a[x]!.eq(b[y]!);
    if (same || !left) close();
    if (!same) open = { ...(open ?? { i0: x, j0: y }), i1: x + 1, j1: y + 1 };
    [i, j] = [x + 1, y + 1];
  }
  close();
  return found;
}

/** Stretches with the openings that belong to tables in them or before them; those that meet so are one. */
function widened(before: Node, after: Node, all: readonly Stretch[]): Stretch[] {
  const found: Stretch[] = [];
  const sides = [
    { doc: before, container: before, start: 0 },
    { doc: after, container: after, start: 0 },
  ] as const;
  const isBound = (i: number, j: number) =>
    [i, j].some((index, side) => index > 0 && isFixed(sides[side]!, index)) ||
    !before.maybeChild(i)?.isTextblock ||
    !after.maybeChild(j)?.isTextblock;
  for (const one of all) {
    const stretch = { ...one };
    while (stretch.i0 > 0 && stretch.j0 > 0 && isBound(stretch.i0, stretch.j0)) {
      stretch.i0--;
      stretch.j0--;
    }
    // The first openings of both texts are the same opening.
    const isFirst = () => stretch.i1 === 0 || stretch.j1 === 0;
    const isLast = () => stretch.i1 === before.childCount || stretch.j1 === after.childCount;
    while (!isLast() && (isFirst() || isBound(stretch.i1, stretch.j1))) {
      stretch.i1++;
      stretch.j1++;
    }
    const last = found.at(-1);
    if (last && (stretch.i0 < last.i1 || stretch.j0 < last.j1)) [last.i1, last.j1] = [stretch.i1, stretch.j1];
    else found.push(stretch);
  }
  return found;
}

/** The stretches of two texts that differ, in order; what is between them is the same. */
export const differing = (before: Node, after: Node, also?: BlocksAlso): Stretch[] =>
  widened(before, after, stretches(before.children, after.children, also));

/** The same as parts whose rows can be laid out. */
export const partsOf = (before: Node, after: Node, also?: BlocksAlso): Part[] =>
  differing(before, after, also).map(({ i0, i1, j0, j1 }) => ({
    before: regionOf(before, before, 0, i0, i1),
    after: regionOf(after, after, 0, j0, j1),
    first: i0,
    end: i1,
    firstAfter: j0,
    endAfter: j1,
  }));
