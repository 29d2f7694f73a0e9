import type { Node } from 'prosemirror-model';
import { sameValue } from '../manuscript/properties.js';
import { sentenceEnds } from './sentence.js';
import type { Change, Range } from './list.js';

/** Which changes belong together: the same edit made elsewhere too, or what stands in one sentence or paragraph. */

type Edit = Pick<Change, 'author' | 'kind' | 'before' | 'after' | 'was' | 'now'>;

/** Whether two changes are the same edit: same author and kind, the same words or properties before and after. */
export const isAlike = (a: Edit, b: Edit): boolean =>
  a.author === b.author &&
  a.kind === b.kind &&
  a.before === b.before &&
  a.after === b.after &&
  sameValue(a.was, b.was) &&
  sameValue(a.now, b.now);

/** The other changes that are the same edit, in reading order. */
export const alikeTo = (change: Change, changes: readonly Change[]): Change[] =>
  changes.filter((other) => other.id !== change.id && isAlike(change, other));

const sorted = (values: Readonly<Record<string, unknown>>) =>
  Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1));

/** FNV-1a (Fowler, Noll and Vo) over UTF-16 code units, from a beginning. */
function hash(text: string, begin: number): number {
  let value = begin;
  for (let i = 0; i < text.length; i++) value = Math.imul(value ^ text.charCodeAt(i), 0x01000193);
  return value >>> 0;
}

/** A short text that is the same for all changes that are alike, and for no others but by a rare chance. */
export function alikeKey({ author, kind, before, after, was, now }: Edit): string {
  const text = JSON.stringify([author, kind, before, after, sorted(was), sorted(now)]);
  return hash(text, 0x811c9dc5).toString(36) + hash(text, 0x1b873593).toString(36);
}

/** The changes that have a part in a range. */
export const changesIn = ({ from, to }: Range, changes: readonly Change[]): Change[] =>
  changes.filter(({ ranges }) => ranges.some((range) => range.from < to && range.to > from));

/** The paragraph a change begins in, its opening included. */
export function paragraphAround(doc: Node, change: Change): Range {
  const { from } = change.ranges[0];
  const $pos = doc.resolve(Math.min(from + 1, doc.content.size));
  let depth = $pos.depth;
  while (depth > 0 && !$pos.node(depth).isTextblock) depth--;
  return depth ? { from: $pos.before(depth), to: $pos.after(depth) } : change.ranges[0];
}

/** The sentence a change begins in, within its paragraph. */
export function sentenceAround(doc: Node, change: Change): Range {
  const { from } = change.ranges[0];
  const paragraph = paragraphAround(doc, change);
  const text = doc.textBetween(paragraph.from + 1, paragraph.to - 1, '', '\ufffc');
  const ends = [...text.matchAll(sentenceEnds)].map((end) => paragraph.from + 1 + end.index + end[0].length);
  const start = ends.filter((end) => end <= from).pop() ?? paragraph.from;
  return { from: start, to: ends.find((end) => end > from) ?? paragraph.to };
}
