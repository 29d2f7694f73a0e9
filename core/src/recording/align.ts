import type { Node } from 'prosemirror-model';
import type { Mapping } from 'prosemirror-transform';
import { isPendingDeletion, regionOf, type Region, type Token } from './row.js';

/**
 * What an edit did to a row: each item is a token that lived on (both sides), that went (`before` only) or that came
 * (`after` only). Between two tokens that live on, those that went stand before those that came.
 */
export interface Item {
  before?: Token;
  after?: Token;
}

export interface Alignment {
  before: Region;
  after: Region;
  items: Item[];
}

/** The blocks an edit touched, on both sides: what is left between the blocks that are the very same nodes. */
function touchedBlocks(before: Node, after: Node): { before: Region; after: Region } {
  let first = 0;
  const most = Math.min(before.childCount, after.childCount);
  while (first < most && before.child(first) === after.child(first)) first++;
  let endBefore = before.childCount;
  let endAfter = after.childCount;
  while (endBefore > first && endAfter > first && before.child(endBefore - 1) === after.child(endAfter - 1)) {
    endBefore--;
    endAfter--;
  }
  // The first openings belong together, so both sides need theirs.
  if (first === 0 && (endBefore === 0 || endAfter === 0) && endBefore < before.childCount) {
    endBefore++;
    endAfter++;
  }
  return {
    before: regionOf(before, before, 0, first, endBefore),
    after: regionOf(after, after, 0, first, endAfter),
  };
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
      const oldShift = newStart - start; // ranges before this one have already been applied to `at`
      const from = start + oldShift;
      const to = end + oldShift;
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

/** For each token before, the index of the token after that it became, or -1. */
function pairUp(before: Region, after: Region, mapping: Mapping): Int32Array {
  const partner = new Int32Array(before.row.length).fill(-1);
  const stretches = survivors(before.doc.content.size, mapping);
  let s = 0;
  let j = 0;
  before.row.forEach((token, i) => {
    while (s < stretches.length && stretches[s]!.to <= token.pos) s++;
    const stretch = stretches[s];
    if (!stretch || token.pos < stretch.from || token.pos + token.size > stretch.to) return;
    const pos = stretch.at + token.pos - stretch.from;
    while (j < after.row.length && after.row[j]!.pos < pos) j++;
    const there = after.row[j];
    if (there?.pos === pos && there.kind === token.kind && there.size === token.size) partner[i] = j;
  });
  // The first opening of the container is the same opening whatever happened to it.
  if (before.row[0]?.pos === 0 && after.row[0]?.pos === 0 && partner[0] !== 0) {
    partner.forEach((other, i) => {
      if (other === 0) partner[i] = -1;
    });
    partner[0] = 0;
  }
  return partner;
}

const isWordLetter = (token: Token | undefined) => token?.kind === 'letter' && /[\p{L}\p{N}\p{M}’']/u.test(token.text);

/** Whether a token that went and one that came are the same after all. */
function equal(gone: Token, come: Token): boolean {
  if (gone.kind !== come.kind || isPendingDeletion(gone)) return false;
  if (gone.kind === 'opening') return true;
  if (gone.kind === 'letter') return gone.text === come.text;
  if (gone.kind === 'wall') return gone.node.eq(come.node);
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
  const end = most > start ? common(gone.slice(start), come.slice(start), most - start, fromEnd) : 0;
  for (let k = 0; k < start; k++) items.push({ before: gone[k]!, after: come[k]! });
  for (const before of gone.slice(start, gone.length - end)) items.push({ before });
  for (const after of come.slice(start, come.length - end)) items.push({ after });
  for (let k = end; k > 0; k--) items.push({ before: gone[gone.length - k]!, after: come[come.length - k]! });
}

/** Lays an edit out as a row of items. Looks only at the blocks it touched. */
export function align(before: Node, after: Node, mapping: Mapping): Alignment {
  const regions = touchedBlocks(before, after);
  const partner = pairUp(regions.before, regions.after, mapping);
  const items: Item[] = [];
  let gone: Token[] = [];
  let next = 0;
  regions.before.row.forEach((token, i) => {
    const at = partner[i]!;
    if (at < next) {
      gone.push(token); // it went, or (at >= 0) stands before something already passed
      return;
    }
    closeGap(items, gone, regions.after.row.slice(next, at));
    items.push({ before: token, after: regions.after.row[at]! });
    gone = [];
    next = at + 1;
  });
  closeGap(items, gone, regions.after.row.slice(next));
  return { ...regions, items };
}
