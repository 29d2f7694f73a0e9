import type { Node } from 'prosemirror-model';
import { regionOf, stretchOf, type Region } from './row.js';

/** Which stretches of two documents an edit touched: only these are looked at. */

/** A container on one side: a document, a table, a row, a cell, a footnote. */
export interface Side {
  doc: Node;
  container: Node;
  start: number;
}

export interface Regions {
  before: Region;
  after: Region;
}

/** Whether the child at that place is a paragraph that stays: the first of the container, or one after a table. */
const isFixed = ({ container }: Side, index: number) =>
  !!container.maybeChild(index)?.isTextblock && (index === 0 || !container.child(index - 1).isTextblock);

/** Which children of both sides an edit touched: from the firsts up to the ends, where both are the same again. */
interface Touched {
  firstBefore: number;
  firstAfter: number;
  endBefore: number;
  endAfter: number;
}

/** What is left between the blocks that are the very same nodes. */
function touchedBlocks(before: Side, after: Side): Touched {
  const [a, b] = [before.container, after.container];
  let first = 0;
  const most = Math.min(a.childCount, b.childCount);
  while (first < most && a.child(first) === b.child(first)) first++;
  let endBefore = a.childCount;
  let endAfter = b.childCount;
  while (endBefore > first && endAfter > first && a.child(endBefore - 1) === b.child(endAfter - 1)) {
    endBefore--;
    endAfter--;
  }
  // An opening that stays belongs to what is before it, so it is looked at together with that.
  if (endBefore < a.childCount && (isFixed(before, endBefore) || isFixed(after, endAfter))) {
    endBefore++;
    endAfter++;
  }
  return { firstBefore: first, firstAfter: first, endBefore, endAfter };
}

/** Whether two neighbouring blocks are paragraphs about whose openings nothing is pending: what ends there, ends. */
const isDivide = (container: Node, index: number): boolean =>
  [container.maybeChild(index), container.maybeChild(index + 1)].every(
    (block) => block?.isTextblock && !block.marks.some((mark) => mark.type.name.startsWith('opening')),
  );

/** For each block before the edit the block after it that is the very same node where the edit has put it, or -1. */
function twins(before: Side, after: Side, touched: Touched, landed: (pos: number) => number | undefined): number[] {
  const startsAfter = new Map<number, number>();
  after.container.forEach((_, offset, k) => {
    if (k >= touched.firstAfter && k < touched.endAfter) startsAfter.set(after.start + offset, k);
  });
  const found: number[] = [];
  before.container.forEach((block, offset, i) => {
    const inside = i >= touched.firstBefore && i < touched.endBefore;
    const k = inside ? startsAfter.get(landed(before.start + offset) ?? -1) : undefined;
    found.push(k !== undefined && after.container.child(k) === block ? k : -1);
  });
  return found;
}

/**
 * What an edit touched, in parts that lie apart: two paragraphs at least, which are the very same nodes, stand between
 * them, so that nothing in one part has to do with the other.
 * @param landed where a position before the edit is after it; undefined where it has gone
 */
function touchedParts(before: Side, after: Side, landed: (pos: number) => number | undefined): Touched[] {
  const open = touchedBlocks(before, after);
  const twin = twins(before, after, open, landed);
  const parts: Touched[] = [];
  for (let i = open.firstBefore, n = 1; i < open.endBefore; i += n) {
    const k = twin[i] ?? -1;
    n = 1;
    if (k < 0) continue;
    while (twin[i + n] === k + n) n++;
    // An opening that stays belongs to what is before it.
    const skip = Number(isFixed(before, i) || isFixed(after, k));
    const divides = n - skip > 1 && isDivide(before.container, i + skip) && isDivide(before.container, i + n - 2);
    if (!divides) continue;
    parts.push({ ...open, endBefore: i + skip, endAfter: k + skip });
    open.firstBefore = i + n;
    open.firstAfter = k + n;
  }
  return [...parts, open];
}

/** How far around an edit within a paragraph one looks, at least; words are looked at whole. */
const reach = 6;

/** The last place at or before `offset`, and away from it, where a word begins; letters end there too. */
function wordBorder(text: string, offset: number): number {
  const space = text.lastIndexOf(' ', offset - reach);
  return space < 0 ? 0 : space;
}

/**
 * Both sides of an edit that stays within one paragraph: the stretch of it that differs and what stands around it, so
 * that a keystroke does not cost a paragraph. Null where an edit is of another kind.
 */
function touchedStretch(before: Side, after: Side, touched: Touched): Regions | null {
  const { firstBefore, firstAfter, endBefore, endAfter } = touched;
  if (endBefore !== firstBefore + 1 || endAfter !== firstAfter + 1) return null;
  const was = before.container.child(firstBefore);
  const now = after.container.child(firstAfter);
  if (!was.isTextblock || !now.isTextblock || !was.sameMarkup(now)) return null;
  const start = was.content.findDiffStart(now.content);
  const end = was.content.findDiffEnd(now.content);
  if (start === null || !end) return null;
  const text = was.textBetween(0, was.content.size, '', '\ufffc');
  if (text.length !== was.content.size) return null; // footnotes take more than a place
  const from = wordBorder(text, start);
  let to = end.a + Math.max(0, start - Math.min(end.a, end.b)) + reach;
  // Deleted words that begin there belong together: what is typed before them goes behind them.
  was.forEach((node, offset) => {
    const last = offset + node.nodeSize;
    if (offset < to && last > to && node.marks.some((mark) => mark.type.name === 'deletion')) to = last;
  });
  const space = text.indexOf(' ', to);
  to = to >= text.length || space < 0 ? text.length : space;
  const tail = was.content.size - to;
  if (now.content.size - tail < from) return null;
  return {
    before: stretchOf(before.doc, before.container, before.start, firstBefore, from, to),
    after: stretchOf(after.doc, after.container, after.start, firstAfter, from, now.content.size - tail),
  };
}

function regions(before: Side, after: Side, touched: Touched): Regions {
  const { firstBefore, firstAfter, endBefore, endAfter } = touched;
  // An opening after a table is looked at together with it.
  const back = Number(isAfterTable(before, firstBefore) || isAfterTable(after, firstAfter));
  return (
    touchedStretch(before, after, touched) ?? {
      before: regionOf(before.doc, before.container, before.start, firstBefore - back, endBefore),
      after: regionOf(after.doc, after.container, after.start, firstAfter - back, endAfter),
    }
  );
}
const isAfterTable = (side: Side, index: number) => index > 0 && isFixed(side, index);

/** The regions of both sides that an edit touched, with the openings that belong to them. */
export const regionsOf = (before: Side, after: Side): Regions => regions(before, after, touchedBlocks(before, after));

/** The same in parts that lie apart, so that what stands between them costs nothing (see `touchedParts`). */
export const regionsApart = (before: Side, after: Side, landed: (pos: number) => number | undefined): Regions[] =>
  touchedParts(before, after, landed).map((touched) => regions(before, after, touched));
