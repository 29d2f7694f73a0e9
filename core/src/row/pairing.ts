import type { Mapping } from 'prosemirror-transform';
import { composed, rangesOf } from './maps.js';
import { hasInside, type Region, type Token } from './row.js';

/**
 * Which tokens of one row live on in another. By step maps, for what an editor did; whoever knows the two rows by other
 * means makes a pairing of their own.
 */

/** For each token before, the index of the token after that it became, or -1. */
export type Partners = Int32Array;
export type Pairing = (before: Region, after: Region) => Partners;

/** A stretch of positions that an edit left in place: from..to before, beginning at `at` after. */
interface Stretch {
  from: number;
  to: number;
  at: number;
}

/** The stretches of the old document that live on through all maps, in order. */
function survivors(size: number, { maps }: Mapping): Stretch[] {
  const gone = composed(maps.map(rangesOf));
  const stretches: Stretch[] = [];
  let from = 0;
  let shift = 0;
  for (let i = 0; i < gone.length; i += 3) {
    const to = gone[i]!;
    if (to > from) stretches.push({ from, to, at: from + shift });
    from = to + gone[i + 1]!;
    shift += gone[i + 2]! - gone[i + 1]!;
  }
  if (size > from) stretches.push({ from, to: size, at: from + shift });
  return stretches;
}

/** How much of a token must live on for it to be the same: of one with a row inside, where it begins. */
const core = (token: Token) => (hasInside(token) ? 1 : token.size);

/** The index of the first stretch that ends after a position; they stand in order. */
function firstBehind(pos: number, stretches: readonly Stretch[]): number {
  let low = 0;
  let high = stretches.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (stretches[middle]!.to <= pos) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The stretch a position lies in. */
function stretchAt(pos: number, stretches: readonly Stretch[]): Stretch | undefined {
  const found = stretches[firstBehind(pos, stretches)];
  return found && found.from <= pos ? found : undefined;
}

/** How an edit pairs tokens, and where positions that lived on are after it. */
export interface ByMaps {
  pairing: Pairing;
  landed(pos: number): number | undefined;
}

/** Where what stands inside a token lives on. */
function inhabitantsOf({ node: whole, pos: start }: Token, stretches: readonly Stretch[]): number[] {
  const found: number[] = [];
  whole.descendants((node, offset) => {
    if (!node.isTextblock && !node.isText) return;
    const pos = start + 1 + offset;
    const stretch = stretchAt(pos, stretches);
    if (stretch) found.push(stretch.at + pos - stretch.from);
  });
  return found;
}

/**
 * Some commands of the library wrap what is left of a table or a footnote in a new one. It is the same one where what
 * stood inside lives on inside.
 */
function pairInhabited(before: Region, after: Region, stretches: readonly Stretch[], partner: Partners): void {
  if (!before.row.some((token, i) => hasInside(token) && partner[i] === -1)) return;
  /** Of each place in the row, the partner of the next token that has one. */
  const next = new Int32Array(partner.length);
  for (let i = partner.length - 1, end = after.row.length; i >= 0; i--) {
    next[i] = end;
    if (partner[i]! >= 0) end = Math.min(end, partner[i]!);
  }
  const taken = new Set(partner);
  let passed = -1;
  before.row.forEach((token, i) => {
    if (partner[i]! >= 0) {
      passed = Math.max(passed, partner[i]!);
      return;
    }
    if (!hasInside(token)) return;
    const inhabitants = inhabitantsOf(token, stretches);
    if (!inhabitants.length) return;
    for (let j = passed + 1; j < next[i]!; j++) {
      const there = after.row[j]!;
      if (there.node.type !== token.node.type || taken.has(j)) continue;
      if (!inhabitants.some((at) => at > there.pos && at < there.pos + there.size)) continue;
      partner[i] = passed = j;
      taken.add(j);
      return;
    }
  });
}

/** Openings that stay are the same openings, whatever the edit did to get there. */
export function tieOpenings(before: Region, after: Region, partner: Partners): void {
  const owner = new Map<number, number>();
  partner.forEach((j, i) => after.row[j]?.fixed && owner.set(j, i));
  const tie = (i: number, j: number) => {
    if (!before.row[i]?.fixed || !after.row[j]?.fixed || partner[i] === j) return;
    const former = owner.get(j);
    if (former !== undefined) partner[former] = -1;
    owner.set(j, i);
    partner[i] = j;
  };
  tie(0, 0);
  before.row.forEach((token, i) => {
    if (token.kind === 'block' && partner[i]! >= 0) tie(i + 1, partner[i]! + 1);
  });
}

/**
 * Pairs tokens by the maps of the steps that lead from one document to the other.
 * @param size of the content of the document before
 */
export function byMaps(size: number, mapping: Mapping): ByMaps {
  const stretches = survivors(size, mapping);
  const landed = (pos: number) => {
    const stretch = stretchAt(pos, stretches);
    return stretch && stretch.at + pos - stretch.from;
  };
  const pairing: Pairing = (before, after) => {
    const partner = new Int32Array(before.row.length).fill(-1);
    let s = firstBehind(before.from, stretches);
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
      )
        partner[i] = j;
    });
    pairInhabited(before, after, stretches, partner);
    tieOpenings(before, after, partner);
    return partner;
  };
  return { pairing, landed };
}
