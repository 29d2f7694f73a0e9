import type { Pairing } from '../row/pairing.js';
import { insertionName, isPendingDeletion, type Region, type Token } from '../row/row.js';
import type { Wanted } from './laid-over.js';
import { byContent } from './words.js';

/** Pairing texts in which something is pending: only what is there in a reading of each can be the same. */

/** Which tokens are there in a reading. */
export type IsThere = (token: Token) => boolean;

/** As it stands, whatever is pending. */
export const standing: IsThere = () => true;

/** If all were accepted. */
export const alive: IsThere = (token) => !isPendingDeletion(token);

/** If those changes were rejected. */
export const thereBefore =
  (isOne: Wanted): IsThere =>
  (token) =>
    !token.node.marks.some((mark) => mark.type.name === insertionName(token) && isOne(mark.attrs.change as string));

/** Pairs what is there on each side. */
export function among(before: IsThere, after: IsThere, pairing: Pairing = byContent): Pairing {
  const there = (region: Region, isThere: IsThere) => {
    const places = region.row.flatMap((token, i) => (isThere(token) ? i : []));
    return { places, region: { ...region, row: places.map((i) => region.row[i]!) } };
  };
  return (one, other) => {
    const [a, b] = [there(one, before), there(other, after)];
    const partner = new Int32Array(one.row.length).fill(-1);
    pairing(a.region, b.region).forEach((at, i) => {
      if (at >= 0) partner[a.places[i]!] = b.places[at]!;
    });
    return partner;
  };
}

/** Pairs rows that are the same token by token; where they are not after all, by what they say. */
export const inStep: Pairing = (before, after) => {
  const { row } = before;
  const isSame = row.length === after.row.length && row.every(({ kind }, i) => kind === after.row[i]!.kind);
  return isSame ? Int32Array.from(row.keys()) : byContent(before, after);
};

/** The same, save that what is itself pending is not the opening that a new table comes with: it may go without it. */
export function apartFromTables(pairing: Pairing): Pairing {
  return (before, after) => {
    const partner = pairing(before, after);
    const lives = new Set(partner);
    partner.forEach((j, i) => {
      const comesWith = after.row[j - 1]?.kind === 'block' && !lives.has(j - 1);
      if (comesWith && before.row[i]!.node.marks.length) partner[i] = -1;
    });
    return partner;
  };
}

/** Pairs letters that are the same at the beginning of both rows, and at the end: white space, after words are paired. */
export const byEnds: Pairing = ({ row: a }, { row: b }) => {
  const partner = new Int32Array(a.length).fill(-1);
  const same = (i: number, j: number) =>
    a[i]!.kind === 'letter' && b[j]!.kind === 'letter' && a[i]!.text === b[j]!.text;
  let start = 0;
  let [endA, endB] = [a.length, b.length];
  while (start < endA && start < endB && same(start, start)) partner[start] = start++;
  while (endA > start && endB > start && same(endA - 1, endB - 1)) partner[--endA] = --endB;
  return partner;
};

/** Pairs by the one, and what is left between those pairs by the other. */
export function refined(first: Pairing, then: Pairing): Pairing {
  return (before, after) => {
    const partner = first(before, after);
    const rest = (region: Region, from: number, to: number): Region => ({ ...region, row: region.row.slice(from, to) });
    let [i, j] = [0, 0];
    const between = (toBefore: number, toAfter: number) => {
      if (toBefore > i && toAfter > j)
        then(rest(before, i, toBefore), rest(after, j, toAfter)).forEach((at, k) => {
          if (at >= 0) partner[i + k] = j + at;
        });
    };
    for (const [here, there] of partner.entries()) {
      if (there < j) continue;
      between(here, there);
      [i, j] = [here + 1, there + 1];
    }
    between(before.row.length, after.row.length);
    return partner;
  };
}
