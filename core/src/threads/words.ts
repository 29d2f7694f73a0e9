import type { Node } from 'prosemirror-model';
import type { Range } from '../changes/list.js';

/** The words a thread is about, as they read: what was written between them since belongs to them. */

const isGoing = (node: Node) => node.marks.some(({ type }) => type.name === 'deletion');

/** Whether there is anything to read between two places. */
function isEmpty(doc: Node, from: number, to: number): boolean {
  let empty = true;
  doc.nodesBetween(from, to, (node) => void (empty &&= !node.isInline));
  return empty;
}

/** Whether all words of a range are struck out already. */
export function allGoes(doc: Node, { from, to }: Range): boolean {
  let all = true;
  doc.nodesBetween(from, to, (node) => void (all &&= !node.isInline || isGoing(node)));
  return all;
}

/**
 * The anchored ranges of a thread, joined where only words that were put between them keep them apart. Of words that
 * were moved, those that stay count.
 */
export function joinedRanges(doc: Node, ranges: readonly Range[]): Range[] {
  const staying = ranges.filter((range) => !allGoes(doc, range));
  const joined: Range[] = [];
  for (const range of staying.length ? staying : ranges) {
    const last = joined.at(-1);
    const together =
      last && (doc.resolve(last.to).sameParent(doc.resolve(range.from)) || isEmpty(doc, last.to, range.from));
    if (together) last.to = range.to;
    else joined.push({ ...range });
  }
  return joined;
}

/** The words of some ranges as they read when all is accepted; as they stand, if nothing would be left. */
export function wordsOf(doc: Node, ranges: readonly Range[]): string {
  let fair = '';
  let all = '';
  for (const { from, to } of joinedRanges(doc, ranges)) {
    doc.nodesBetween(from, to, (node, pos) => {
      const separator = all && node.isTextblock ? ' ' : '';
      const words = node.isText
        ? node.text!.slice(Math.max(0, from - pos), to - pos)
        : node.isInline && node.isLeaf
          ? String(node.attrs.alt ?? ' ')
          : separator;
      all += words;
      if (!isGoing(node)) fair += words;
    });
  }
  return (fair.trim() || all).replace(/\s+/g, ' ').trim();
}
