import type { Node } from 'prosemirror-model';
import { schema } from '../manuscript/schema.js';
import { tieOpenings, type Pairing, type Partners } from '../row/pairing.js';
import type { Region, Token } from '../row/row.js';
import { pairedBlocks } from './paragraphs.js';
import type { BlocksAlso } from './resembling.js';
import { sharedKeys } from './shared.js';
import { unitsOf, weightOf, type Also, type Unit } from './units.js';

/** Which words of two rows are the same words. */

/** How many units may come and go in one part; with more, it is taken to be another text. */
const most = 3000;

/** A run of units: what both sides have, or what went and came in its place. */
interface Run {
  a: Unit[];
  b: Unit[];
  same: boolean;
  /** How many letters went, and how many came. */
  gone: number;
  come: number;
}

function put(run: Run, one: Unit | undefined, other: Unit | undefined): void {
  if (one) {
    run.a.push(one);
    run.gone += weightOf(one);
  }
  if (other) {
    run.b.push(other);
    run.come += weightOf(other);
  }
}
const size = ({ gone, come }: Run) => Math.max(gone, come);

function runsOf(a: readonly Unit[], b: readonly Unit[], partner: Partners): Run[] {
  const runs: Run[] = [];
  let j = 0;
  const add = (one: Unit | undefined, other: Unit | undefined) => {
    const same = !!one && !!other;
    let last = runs.at(-1);
    if (last?.same !== same) runs.push((last = { a: [], b: [], same, gone: 0, come: 0 }));
    put(last, one, other);
  };
  a.forEach((unit, i) => {
    const there = partner[i]!;
    if (there < 0) return add(unit, undefined);
    while (j < there) add(undefined, b[j++]);
    add(unit, b[j++]);
  });
  while (j < b.length) add(undefined, b[j++]);
  return runs;
}

const wordsAmong = (units: readonly Unit[]) => units.filter(({ key }) => /[\p{L}\p{N}]/u.test(key)).length;

/**
 * Whether what two edits have between them is too little to keep them apart: one rewritten sentence is one replacement,
 * not thirty. It weighs no more than either of them; three words and more must weigh half of that.
 */
function isIsland(run: Run, left: Run, right: Run): boolean {
  if (run.a.some(({ key }) => key === '¶')) return false;
  const least = Math.min(size(left), size(right));
  return size(run) * (wordsAmong(run.a) > 2 ? 2 : 1) <= least;
}

/** What is taken in goes on the end of the first, which may have grown long already. */
function takeIn(into: Run, ...others: readonly Run[]): void {
  for (const { a, b } of others) {
    for (const unit of a) put(into, unit, undefined);
    for (const unit of b) put(into, undefined, unit);
  }
}

/** The runs without islands: an edit that takes one in may make the next one an island too. */
function withoutIslands(runs: readonly Run[]): Run[] {
  const found: Run[] = [];
  for (const run of runs) {
    found.push(run);
    // An edit has come to stand last: what is between it and the one before may go.
    while (!found.at(-1)!.same && found.length > 2) {
      const [left, island, right] = found.slice(-3) as [Run, Run, Run];
      if (!isIsland(island, left, right)) break;
      found.length -= 2;
      takeIn(left, island, right);
    }
  }
  return found;
}

/** How many letters a word has at least of which an ending is read as one, and how many the ending has at most. */
const [stem, ending] = [4, 3];

/**
 * Of a word that only gains or loses an ending the ending is what changes (“tide”, “tides”); of any other the whole word,
 * for letters in the middle of one are hard to read.
 */
function pairBeginning(before: Region, after: Region, a: Unit[], b: Unit[], partner: Partners): void {
  const [one, other] = [a[0], b[0]];
  if (a.length !== 1 || b.length !== 1 || !one || !other) return;
  const [short, long] = [one, other].map(({ from, to }) => to - from).sort((x, y) => x - y) as [number, number];
  if (short < stem || long - short > ending) return;
  const letters = (region: Region, from: number) => region.row.slice(from, from + short);
  const [was, now] = [letters(before, one.from), letters(after, other.from)];
  if (!was.every((token, k) => token.kind === 'letter' && token.text === now[k]!.text)) return;
  for (let k = 0; k < short; k++) partner[one.from + k] = other.from + k;
}

/** Pairs the letters of units that are the same, and the white space between neighbours. */
function pairTokens(before: Region, after: Region, runs: readonly Run[], partner: Partners): void {
  const isSame = (one: Token, other: Token) => one.kind === other.kind && one.text === other.text;
  const pair = (from: number, to: number, there: number, end: number): boolean => {
    let same = to - from === end - there;
    for (let k = 0; same && k < to - from; k++) same = isSame(before.row[from + k]!, after.row[there + k]!);
    for (let k = 0; same && k < to - from; k++) partner[from + k] = there + k;
    return same;
  };
  for (const { a, b, same } of runs) {
    if (!same) {
      pairBeginning(before, after, a, b, partner);
      continue;
    }
    a.forEach((unit, n) => {
      const other = b[n]!;
      if (!pair(unit.from, unit.to, other.from, other.to)) return;
      pair(unit.to, a[n + 1]?.from ?? unit.to, other.to, b[n + 1]?.from ?? other.to);
    });
  }
}

/** Rows of a table are the same where they say the same or resemble each other; cells, where they stand in one column. */
function pairBlocks(before: readonly Token[], after: readonly Token[], partner: Partners, also: BlocksAlso): void {
  const nodes = (row: readonly Token[]) => row.map(({ node }) => node);
  if (before[0]?.node.type === schema.nodes.table_cell) before.forEach((_, i) => (partner[i] = after[i] ? i : -1));
  else for (const [i, j] of pairedBlocks(nodes(before), nodes(after), also)) partner[i] = j;
}

/** Pairs two rows by what they say, and by what else is known of the tokens of either. */
export function pairedBy(alsoBefore?: Also, alsoAfter?: Also): Pairing {
  return (before, after) => {
    const partner = new Int32Array(before.row.length).fill(-1);
    if (before.container.type === schema.nodes.table || before.container.type === schema.nodes.table_row) {
      const of = (also?: Also) => (node: Node) => also?.({ kind: 'block', node }) ?? '';
      pairBlocks(before.row, after.row, partner, { before: of(alsoBefore), after: of(alsoAfter) });
      return partner;
    }
    const [a, b] = [unitsOf(before.row, alsoBefore), unitsOf(after.row, alsoAfter)];
    const numbers = new Map<string, number>();
    const keys = (units: readonly Unit[]) =>
      units.map(({ key }) => {
        const number = numbers.get(key) ?? numbers.size;
        numbers.set(key, number);
        return number;
      });
    const runs = withoutIslands(runsOf(a, b, sharedKeys(keys(a), keys(b), most)));
    pairTokens(before, after, runs, partner);
    tieOpenings(before, after, partner);
    return partner;
  };
}

/** Pairs two rows by what they say. */
export const byContent: Pairing = pairedBy();
