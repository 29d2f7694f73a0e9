import type { Node } from 'prosemirror-model';
import { atOnce } from '../manuscript/at-once.js';
import { regionInParts, stretchOf, type Region } from './row.js';

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
export const isFixed = ({ container }: Side, index: number) =>
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

/** Whether a block is a paragraph that follows one, and nothing is pending about the opening of either. */
const isPlain = (container: Node, index: number): boolean =>
  [container.maybeChild(index - 1), container.maybeChild(index)].every(
    (block) => block?.isTextblock && !block.marks.some((mark) => mark.type.name.startsWith('opening')),
  );

/** What an edit touched in one part of a text, and whether what stands before and behind has nothing to do with it. */
interface Part extends Touched {
  apart: Apart;
}
export interface Apart {
  before: boolean;
  behind: boolean;
}

/**
 * What an edit touched, in parts that have nothing to do with one another: they begin with plain paragraphs whose
 * openings lived on.
 * @param landed where a position before the edit is after it; undefined where it has gone
 */
function touchedParts(before: Side, after: Side, landed: (pos: number) => number | undefined): Part[] {
  const whole = touchedBlocks(before, after);
  const [a, b] = [before.container, after.container];
  const startsAfter = new Map<number, number>();
  b.forEach((_, offset, k) => k > whole.firstAfter && k < whole.endAfter && startsAfter.set(after.start + offset, k));
  const parts: Part[] = [];
  let open: Part = { ...whole, apart: { before: false, behind: false } };
  const isSame = ({ firstBefore, firstAfter, endBefore, endAfter }: Touched) =>
    endBefore - firstBefore === 1 && endAfter - firstAfter === 1 && a.child(firstBefore) === b.child(firstAfter);
  a.forEach((_, offset, i) => {
    if (i <= whole.firstBefore || i >= whole.endBefore || !isPlain(a, i)) return;
    const k = startsAfter.get(landed(before.start + offset) ?? -1);
    if (k === undefined || !isPlain(b, k)) return;
    const part = { ...open, endBefore: i, endAfter: k, apart: { ...open.apart, behind: true } };
    if (!isSame(part)) parts.push(part);
    open = { ...open, firstBefore: i, firstAfter: k, apart: { before: true, behind: false } };
  });
  if (!isSame(open)) parts.push(open);
  return parts;
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

function* regions(before: Side, after: Side, touched: Touched): Generator<undefined, Regions> {
  const { firstBefore, firstAfter, endBefore, endAfter } = touched;
  const stretch = touchedStretch(before, after, touched);
  if (stretch) return stretch;
  // An opening after a table is looked at together with it.
  const back = Number(isAfterTable(before, firstBefore) || isAfterTable(after, firstAfter));
  return {
    before: yield* regionInParts(before.doc, before.container, before.start, firstBefore - back, endBefore),
    after: yield* regionInParts(after.doc, after.container, after.start, firstAfter - back, endAfter),
  };
}
const isAfterTable = (side: Side, index: number) => index > 0 && isFixed(side, index);

/** The regions of both sides that an edit touched, with the openings that belong to them. */
export const regionsOf = (before: Side, after: Side): Regions =>
  atOnce(regions(before, after, touchedBlocks(before, after)));

/** The blocks of one part of an edit on both sides, with those around it that it has to do with. */
export interface Blocks {
  before: readonly Node[];
  after: readonly Node[];
}

/** How many blocks around a part are looked at where it has to do with them: a table, and the paragraph after it. */
const around = 2;

function blocksOf(before: Side, after: Side, { apart, ...touched }: Part): Blocks {
  const [back, on] = [apart.before ? 0 : around, apart.behind ? 0 : around];
  const of = ({ container }: Side, first: number, end: number) =>
    container.children.slice(Math.max(0, first - back), end + on);
  return {
    before: of(before, touched.firstBefore, touched.endBefore),
    after: of(after, touched.firstAfter, touched.endAfter),
  };
}

/** One part of an edit, and the reading of its regions, block by block. */
export interface Separate {
  apart: Apart;
  blocks: Blocks;
  read(): Generator<undefined, Regions>;
}

/**
 * The same in parts that have nothing to do with one another, so that what was not touched between costs nothing.
 * @param landed where a position before the edit is after it; undefined where it has gone
 */
export const regionsApart = (before: Side, after: Side, landed: (pos: number) => number | undefined): Separate[] =>
  touchedParts(before, after, landed).map((part) => ({
    apart: part.apart,
    blocks: blocksOf(before, after, part),
    read: () => regions(before, after, part),
  }));
