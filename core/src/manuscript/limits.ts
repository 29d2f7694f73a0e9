import type { Node } from 'prosemirror-model';
import { gridSize } from './grid.js';

/**
 * How much one manuscript may hold: more than any book needs, and so little that no single act on it keeps the others
 * waiting. What was larger before these were set stays and may shrink.
 */
export const limits = {
  /** Of a manuscript: its own paragraphs and tables, its letters (positions of the text), its pending changes. */
  paragraphs: 50_000,
  letters: 4_000_000,
  changes: 100_000,
  /** How long it is written down, with all that is said of its words: about so many letters as JSON. */
  weight: 40_000_000,
  /** Of one paragraph: letters, its footnotes included, and stretches that differ in lettering or changes. */
  paragraphLetters: 50_000,
  paragraphPieces: 3000,
  /** Of one table: the places of its grid. */
  cells: 5000,
} as const;
export type Limit = keyof typeof limits;

const number = (limit: Limit) => limits[limit].toLocaleString('en');

/** Each limit as the end of a sentence, with what to do. */
export const limitWords: Record<Limit, string> = {
  paragraphs: `a manuscript holds at most ${number('paragraphs')} paragraphs; divide it into several`,
  letters: `a manuscript holds at most ${number('letters')} letters; divide it into several`,
  changes: `a manuscript holds at most ${number('changes')} changes to decide; decide some first`,
  weight: 'a manuscript holds at most 40 MB with all its changes, links and settings; divide it into several',
  paragraphLetters: `a paragraph holds at most ${number('paragraphLetters')} letters; divide it`,
  paragraphPieces: `a paragraph holds at most ${number('paragraphPieces')} stretches that are changed or set differently; decide some of its changes, or divide it`,
  cells: `a table holds at most ${number('cells')} cells; divide it`,
};

/** About how long names and values are as JSON. */
function weightOfValues(values: Record<string, unknown>): number {
  let sum = 0;
  for (const name in values) {
    const value = values[name];
    const isPlain = typeof value !== 'object' || value === null;
    sum += name.length + 6 + (typeof value === 'string' ? value.length : isPlain ? 5 : JSON.stringify(value).length);
  }
  return sum;
}

const sumOf = (nodes: readonly Node[]): number => {
  let sum = 0;
  for (const node of nodes) sum += weightOf(node);
  return sum;
};

const weighed = new WeakMap<Node, number>();
/**
 * About how long a node is written down as JSON, in letters.
 * @param known a node that differs from it in few of its children: if that was weighed, only those are
 */
export function weightOf(node: Node, known?: { of: Node; gone: readonly Node[]; come: readonly Node[] }): number {
  let weight = node.isText ? undefined : weighed.get(node);
  if (weight !== undefined) return weight;
  const before = known && weighed.get(known.of);
  if (known && before !== undefined) weight = before - sumOf(known.gone) + sumOf(known.come);
  else {
    weight = 30 + (node.text?.length ?? weightOfValues(node.attrs) + sumOf(node.children));
    for (const { attrs } of node.marks) weight += 24 + weightOfValues(attrs);
  }
  if (!node.isText) weighed.set(node, weight);
  return weight;
}

type Measures = Partial<Record<Limit, number>>;

/** What is to be measured of a block. */
function measuresOf(block: Node): Measures {
  if (block.isTextblock) return { paragraphLetters: block.content.size, paragraphPieces: block.childCount };
  const most: Measures = { cells: gridSize(block) };
  block.descendants((node) => {
    if (!node.isTextblock) return true;
    keepLarger(most, measuresOf(node));
    return false;
  });
  return most;
}

function keepLarger(most: Measures, more: Measures): void {
  for (const [limit, amount] of Object.entries(more) as [Limit, number][])
    most[limit] = Math.max(most[limit] ?? 0, amount);
}

function largest(blocks: readonly Node[]): Measures {
  const most: Measures = {};
  for (const block of blocks) keepLarger(most, measuresOf(block));
  return most;
}

/**
 * Which limit a text goes over that it did not go over as far before.
 * @param before null for a text that comes in whole
 */
export function overLimit(before: Node | null, after: Node): Limit | null {
  const [was, is] = [before?.children ?? [], after.children];
  let first = 0;
  while (first < was.length && was[first] === is[first]) first++;
  let same = 0;
  const most = Math.min(was.length, is.length) - first;
  while (same < most && was[was.length - 1 - same] === is[is.length - 1 - same]) same++;
  const gone = was.slice(first, was.length - same);
  const come = is.slice(first, is.length - same);
  const had: Measures = {
    ...largest(gone),
    paragraphs: was.length,
    letters: before?.content.size ?? 0,
    weight: before ? weightOf(before) : 0,
  };
  const has: Measures = {
    ...largest(come),
    paragraphs: is.length,
    letters: after.content.size,
    weight: weightOf(after, before ? { of: before, gone, come } : undefined),
  };
  const over = (Object.keys(has) as Limit[]).find(
    (limit) => (has[limit] ?? 0) > Math.max(limits[limit], had[limit] ?? 0),
  );
  return over ?? null;
}
