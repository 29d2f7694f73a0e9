import type { Node } from 'prosemirror-model';
import type { Mapping } from 'prosemirror-transform';
import { atOnce } from '../manuscript/at-once.js';
import { byMaps, type Pairing } from './pairing.js';
import { hasInside, isPendingDeletion, type Region, type Token } from './row.js';
import { regionsApart, regionsOf, type Apart, type Blocks, type Regions, type Side } from './touched.js';

/**
 * What an edit did to a row: each item is a token that lived on (both sides), that went (`before` only) or that came
 * (`after` only). Between two tokens that live on, those that went stand before those that came.
 */
export type Item = Sides & {
  /** What the edit did inside a token that lived on. */
  inside?: Alignment;
};
type Sides = { before: Token; after?: Token } | { before?: undefined; after: Token };

export interface Alignment extends Regions {
  items: Item[];
}

const isWordLetter = (token: Token | undefined) => token?.kind === 'letter' && /[\p{L}\p{N}\p{M}’']/u.test(token.text);

/** Whether a token that went and one that came are the same after all. */
export type Same = (gone: Token, come: Token) => boolean;

/** Nothing else is the same than what the pairing says. */
export const neverSame: Same = () => false;

/** The same by what they are, whatever marks they bear. */
export function sameByContent(gone: Token, come: Token): boolean {
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
  same: Same,
  most: number,
  at: (list: Token[], k: number) => Token | undefined,
): number {
  let n = 0;
  while (n < most && same(at(gone, n)!, at(come, n)!)) n++;
  const splits = (list: Token[]) => isWordLetter(at(list, n - 1)) && isWordLetter(at(list, n));
  while (n > 0 && (splits(gone) || splits(come))) n--;
  return n;
}
const fromStart = (list: Token[], k: number) => list[k];
const fromEnd = (list: Token[], k: number) => list[list.length - 1 - k];

/** So many items are laid out, or looked at, in one go. */
export const inOneGo = 20_000;

function* closeGap(items: Item[], gone: Token[], come: Token[], same: Same): Generator<undefined> {
  const most = Math.min(gone.length, come.length);
  const start = most && common(gone, come, same, most, fromStart);
  let end = most > start ? common(gone.slice(start), come.slice(start), same, most - start, fromEnd) : 0;
  // A table that goes takes the opening after it along, where another table comes in its place.
  const replaced = gone[gone.length - end - 1]?.kind === 'block' && come[start]?.kind === 'block';
  // And what is itself pending cannot be the opening that a new table comes with.
  const opening = gone[gone.length - end];
  const pending = come[come.length - end - 1]?.kind === 'block' && !!opening?.node.marks.length;
  if (end && (replaced || pending)) end--;
  for (let k = 0; k < start; k++) items.push({ before: gone[k]!, after: come[k]! });
  for (let k = start; k < gone.length - end; k++) {
    items.push({ before: gone[k]! });
    if (k % inOneGo === 0) yield;
  }
  for (let k = start; k < come.length - end; k++) {
    items.push({ after: come[k]! });
    if (k % inOneGo === 0) yield;
  }
  for (let k = end; k > 0; k--) items.push({ before: gone[gone.length - k]!, after: come[come.length - k]! });
}

const insideOf = (region: Region, token: Token): Side => ({
  doc: region.doc,
  container: token.node,
  start: token.pos + 1,
});

/**
 * Lays two rows out beside each other by a pairing of their tokens, and what stands inside those that live on, in parts.
 * @param within which regions are looked at inside a token
 * @param same which tokens between those that are paired are the same after all
 */
export function* layOutInParts(
  { before, after }: Regions,
  pairing: Pairing,
  within = regionsOf,
  same: Same = sameByContent,
): Generator<undefined, Alignment> {
  const partner = pairing(before, after);
  const items: Item[] = [];
  let gone: Token[] = [];
  let next = 0;
  for (const [i, token] of before.row.entries()) {
    if (i % inOneGo === 0) yield;
    const at = partner[i]!;
    if (at < next) {
      gone.push(token); // it went, or (at >= 0) stands before something already passed
      continue;
    }
    if (gone.length || at > next) {
      yield* closeGap(items, gone, after.row.slice(next, at), same);
      gone = [];
    }
    items.push({ before: token, after: after.row[at]! });
    next = at + 1;
  }
  yield* closeGap(items, gone, after.row.slice(next), same);
  for (const item of items) {
    const { before: was, after: now } = item;
    if (!was || !now || !hasInside(was) || was.node.content === now.node.content) continue;
    item.inside = yield* layOutInParts(within(insideOf(before, was), insideOf(after, now)), pairing, within, same);
  }
  return { before, after, items };
}

/** The same in one go. */
export const layOut = (...how: Parameters<typeof layOutInParts>): Alignment => atOnce(layOutInParts(...how));

const whole = (doc: Node): Side => ({ doc, container: doc, start: 0 });

/** Lays an edit out as a row of items. Looks only at the blocks from the first it touched to the last. */
export function align(before: Node, after: Node, mapping: Mapping): Alignment {
  const { pairing } = byMaps(before.content.size, mapping);
  return layOut(regionsOf(whole(before), whole(after)), pairing);
}

/** A part of an edit that has nothing to do with the others, and how it is laid out. */
export interface PartOfEdit {
  apart: Apart;
  blocks: Blocks;
  laidOut(): Generator<undefined, Alignment>;
}

/**
 * The same in parts that have nothing to do with one another: an edit all over a book costs what it touches, and need not
 * be looked at in one go.
 */
export function alignApart(before: Node, after: Node, mapping: Mapping, same?: Same): PartOfEdit[] {
  const { pairing, landed } = byMaps(before.content.size, mapping);
  return regionsApart(whole(before), whole(after), landed).map(({ apart, blocks, read }) => ({
    apart,
    blocks,
    *laidOut() {
      return yield* layOutInParts(yield* read(), pairing, regionsOf, same);
    },
  }));
}
