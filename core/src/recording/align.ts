import type { Node } from 'prosemirror-model';
import type { Mapping } from 'prosemirror-transform';
import { hasInside, isPendingDeletion, regionOf, stretchOf, type Region, type Token } from './row.js';

/**
 * What an edit did to a row: each item is a token that lived on (both sides), that went (`before` only) or that came
 * (`after` only). Between two tokens that live on, those that went stand before those that came.
 */
export interface Item {
  before?: Token;
  after?: Token;
  /** What the edit did inside a token that lived on. */
  inside?: Alignment;
}

export interface Alignment {
  before: Region;
  after: Region;
  items: Item[];
}

/** A container on one side: a document, a table, a row, a cell, a footnote. */
interface Side {
  doc: Node;
  container: Node;
  start: number;
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

type Regions = Pick<Alignment, 'before' | 'after'>;

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

function regionsOf(before: Side, after: Side): Regions {
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

/** A stretch of positions that an edit left in place: from..to before, beginning at `at` after. */
interface Stretch {
  from: number;
  to: number;
  at: number;
}

/** The stretches of the old document that live on through all maps, in order. */
function survivors(size: number, mapping: Mapping): Stretch[] {
  let stretches: Stretch[] = [{ from: 0, to: size, at: 0 }];
  for (const map of mapping.maps) {
    map.forEach((start, end, newStart, newEnd) => {
      const cut: Stretch[] = [];
      // Ranges of this map before this one have already been applied to `at`.
      const from = newStart;
      const to = newStart + end - start;
      const shift = newEnd - newStart - (end - start);
      for (const s of stretches) {
        const last = s.at + s.to - s.from;
        if (last <= from) cut.push(s);
        else if (s.at >= to) cut.push({ ...s, at: s.at + shift });
        else {
          if (s.at < from) cut.push({ from: s.from, to: s.from + (from - s.at), at: s.at });
          if (last > to) cut.push({ from: s.to - (last - to), to: s.to, at: to + shift });
        }
      }
      stretches = cut;
    });
  }
  return stretches;
}

/** How much of a token must live on for it to be the same: of one with a row inside, where it begins. */
const core = (token: Token) => (hasInside(token) ? 1 : token.size);

/** Where a position lives on, or -1. */
function livesOnAt(pos: number, stretches: readonly Stretch[]): number {
  const stretch = stretches.find(({ from, to }) => pos >= from && pos < to);
  return stretch ? stretch.at + pos - stretch.from : -1;
}

/**
 * Some commands of the library wrap what is left of a table or a footnote in a new one. It is the same one where what
 * stood inside lives on inside.
 */
function pairInhabited(before: Region, after: Region, stretches: readonly Stretch[], partner: Int32Array): void {
  before.row.forEach((token, i) => {
    if (partner[i]! >= 0 || !hasInside(token)) return;
    const inhabitants = new Set<number>();
    token.node.descendants((node, offset) => {
      const at = node.isTextblock || node.isText ? livesOnAt(token.pos + 1 + offset, stretches) : -1;
      if (at >= 0) inhabitants.add(at);
    });
    if (!inhabitants.size) return;
    const passed = Math.max(-1, ...partner.slice(0, i));
    const next = partner.slice(i + 1).filter((at) => at >= 0);
    const end = next.length ? Math.min(...next) : after.row.length;
    for (let j = passed + 1; j < end; j++) {
      const there = after.row[j]!;
      const same = there.node.type === token.node.type && !partner.includes(j);
      if (same && [...inhabitants].some((at) => at > there.pos && at < there.pos + there.size)) {
        partner[i] = j;
        return;
      }
    }
  });
}

/** For each token before, the index of the token after that it became, or -1. */
function pairUp(before: Region, after: Region, stretches: readonly Stretch[]): Int32Array {
  const partner = new Int32Array(before.row.length).fill(-1);
  let s = 0;
  let j = 0;
  before.row.forEach((token, i) => {
    while (s < stretches.length && stretches[s]!.to <= token.pos) s++;
    const stretch = stretches[s];
    if (!stretch || token.pos < stretch.from || token.pos + core(token) > stretch.to) return;
    const pos = stretch.at + token.pos - stretch.from;
    while (j < after.row.length && after.row[j]!.pos < pos) j++;
    const there = after.row[j];
    if (
      there?.pos === pos &&
      there.kind === token.kind &&
      core(there) === core(token) &&
      there.node.type === token.node.type
    ) {
      partner[i] = j;
    }
  });
  pairInhabited(before, after, stretches, partner);
  // Openings that stay are the same openings, whatever the edit did to get there.
  const tie = (i: number, j: number) => {
    if (!before.row[i]?.fixed || !after.row[j]?.fixed || partner[i] === j) return;
    partner.forEach((other, k) => {
      if (other === j) partner[k] = -1;
    });
    partner[i] = j;
  };
  tie(0, 0);
  before.row.forEach((token, i) => {
    if (token.kind === 'block' && partner[i]! >= 0) tie(i + 1, partner[i]! + 1);
  });
  return partner;
}

const isWordLetter = (token: Token | undefined) => token?.kind === 'letter' && /[\p{L}\p{N}\p{M}’']/u.test(token.text);

/** Whether a token that went and one that came are the same after all. */
function equal(gone: Token, come: Token): boolean {
  if (gone.kind !== come.kind || isPendingDeletion(gone)) return false;
  if (gone.kind === 'opening') return true;
  if (gone.kind === 'letter') return gone.text === come.text;
  if (gone.kind === 'block') return gone.node.eq(come.node);
  return (
    gone.node.type === come.node.type &&
    gone.node.attrs.asset === come.node.attrs.asset &&
    gone.node.content.eq(come.node.content)
  );
}

/**
 * How many tokens at the start (or, going backwards, at the end) of both lists are equal. Words are never taken apart,
 * so that a word typed over another stays one replacement; openings match openings.
 */
function common(
  gone: Token[],
  come: Token[],
  most: number,
  at: (list: Token[], k: number) => Token | undefined,
): number {
  let n = 0;
  while (n < most && equal(at(gone, n)!, at(come, n)!)) n++;
  const splits = (list: Token[]) => isWordLetter(at(list, n - 1)) && isWordLetter(at(list, n));
  while (n > 0 && (splits(gone) || splits(come))) n--;
  return n;
}
const fromStart = (list: Token[], k: number) => list[k];
const fromEnd = (list: Token[], k: number) => list[list.length - 1 - k];

function closeGap(items: Item[], gone: Token[], come: Token[]): void {
  const most = Math.min(gone.length, come.length);
  const start = most && common(gone, come, most, fromStart);
  let end = most > start ? common(gone.slice(start), come.slice(start), most - start, fromEnd) : 0;
  // A table that goes takes the opening after it along, where another table comes in its place.
  const replaced = gone[gone.length - end - 1]?.kind === 'block' && come[start]?.kind === 'block';
  // And what is itself pending cannot be the opening that a new table comes with.
  const opening = gone[gone.length - end];
  const pending = come[come.length - end - 1]?.kind === 'block' && !!opening?.node.marks.length;
  if (end && (replaced || pending)) end--;
  for (let k = 0; k < start; k++) items.push({ before: gone[k]!, after: come[k]! });
  for (const before of gone.slice(start, gone.length - end)) items.push({ before });
  for (const after of come.slice(start, come.length - end)) items.push({ after });
  for (let k = end; k > 0; k--) items.push({ before: gone[gone.length - k]!, after: come[come.length - k]! });
}

const insideOf = (region: Region, token: Token): Side => ({
  doc: region.doc,
  container: token.node,
  start: token.pos + 1,
});

function alignSides(sideBefore: Side, sideAfter: Side, stretches: readonly Stretch[]): Alignment {
  const { before, after } = regionsOf(sideBefore, sideAfter);
  const partner = pairUp(before, after, stretches);
  const items: Item[] = [];
  let gone: Token[] = [];
  let next = 0;
  before.row.forEach((token, i) => {
    const at = partner[i]!;
    if (at < next) {
      gone.push(token); // it went, or (at >= 0) stands before something already passed
      return;
    }
    if (gone.length || at > next) {
      closeGap(items, gone, after.row.slice(next, at));
      gone = [];
    }
    items.push({ before: token, after: after.row[at]! });
    next = at + 1;
  });
  closeGap(items, gone, after.row.slice(next));
  for (const item of items) {
    const { before: was, after: now } = item;
    if (!was || !now || !hasInside(was) || was.node.content === now.node.content) continue;
    item.inside = alignSides(insideOf(before, was), insideOf(after, now), stretches);
  }
  return { before, after, items };
}

/** Lays an edit out as a row of items. Looks only at the blocks it touched. */
export function align(before: Node, after: Node, mapping: Mapping): Alignment {
  const side = (doc: Node): Side => ({ doc, container: doc, start: 0 });
  return alignSides(side(before), side(after), survivors(before.content.size, mapping));
}
