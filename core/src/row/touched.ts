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

/** Which children an edit touched: those from `first` up to the ends, which lie where both sides are the same again. */
interface Touched {
  first: number;
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
  return { first, endBefore, endAfter };
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
function touchedStretch(before: Side, after: Side, { first, endBefore, endAfter }: Touched): Regions | null {
  if (endBefore !== first + 1 || endAfter !== first + 1) return null;
  const was = before.container.child(first);
  const now = after.container.child(first);
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
    before: stretchOf(before.doc, before.container, before.start, first, from, to),
    after: stretchOf(after.doc, after.container, after.start, first, from, now.content.size - tail),
  };
}

/** The regions of both sides that an edit touched, with the openings that belong to them. */
export function regionsOf(before: Side, after: Side): Regions {
  const touched = touchedBlocks(before, after);
  const { endBefore, endAfter } = touched;
  // An opening after a table is looked at together with it.
  const afterTable = touched.first > 0 && (isFixed(before, touched.first) || isFixed(after, touched.first));
  const first = touched.first - Number(afterTable);
  return (
    touchedStretch(before, after, touched) ?? {
      before: regionOf(before.doc, before.container, before.start, first, endBefore),
      after: regionOf(after.doc, after.container, after.start, first, endAfter),
    }
  );
}
