import type { Mark, Node } from 'prosemirror-model';
import { keyOf } from '../manuscript/canonical.js';
import type { PersonId } from '../manuscript/people.js';
import { isReview } from '../manuscript/signature.js';
import { inOneGo, sameByContent, type Item, type Same } from '../row/align.js';
import type { Token } from '../row/row.js';

/** What went and was put back as others had left it: their words live on, though steps have taken them out. */

/** All letters of a text share their marks, so the text to compare one by is made once. */
export function key(mark: Mark): string {
  let text = keys.get(mark);
  if (text === undefined) keys.set(mark, (text = keyOf(mark)));
  return text;
}
const keys = new WeakMap<Mark, string>();
export const marksOfOthers = (marks: readonly Mark[], author: PersonId) =>
  marks
    .filter((mark) => isReview(mark) && mark.attrs.author !== author)
    .map(key)
    .sort();

/** All marks of a token and of what stands inside it. */
export function* marksWithin(node: Node): Generator<Mark> {
  yield* node.marks;
  if (!node.isTextblock)
    for (const child of node.children) yield* child.isTextblock ? marksOfParagraph(child) : marksWithin(child);
}
function* marksOfParagraph(paragraph: Node): Generator<Mark> {
  yield* paragraph.marks;
  for (const child of paragraph.children) yield* marksWithin(child);
}

export const bearsMarksOfOthers = (node: Node, author: PersonId) =>
  [...marksWithin(node)].some((mark) => isReview(mark) && mark.attrs.author !== author);

const sameOthers = (one: Node, other: Node, author: PersonId): boolean =>
  one.marks === other.marks || marksOfOthers(one.marks, author).join() === marksOfOthers(other.marks, author).join();

/** What is the same after all where nothing of others may be changed: its marks of others are the same too. */
export const leftByOthers =
  (author: PersonId): Same =>
  (gone, come) =>
    sameByContent(gone, come) && sameOthers(gone.node, come.node, author);

/** Whether a token that came is one that went, put back with nothing of others changed. */
function isPutBack({ kind, text, node }: Token, { kind: was, text: wasText, node: former }: Token, author: PersonId) {
  if (kind !== was || text !== wasText || node.type !== former.type) return false;
  const same = kind === 'opening' || kind === 'letter' || node.content.eq(former.content);
  return same && sameOthers(node, former, author);
}

/**
 * The items, with those tokens paired that went and were put back (see correct.ts); null where something that came with
 * marks of others is none of them.
 */
export function* rejoined(items: readonly Item[], author: PersonId): Generator<undefined, readonly Item[] | null> {
  const result: Item[] = [];
  /** What has gone, and how much of it stands in the result already. */
  let gone: { before: Token }[] = [];
  let passed = 0;
  for (const [i, item] of items.entries()) {
    if (i % inOneGo === 0) yield;
    const { before, after } = item;
    if (before && !after) gone.push({ before });
    else if (!before && passed < gone.length && bearsMarksOfOthers(after.node, author)) {
      let at = passed;
      for (let one = gone[at]; one && !isPutBack(after, one.before, author); one = gone[at]) at++;
      const back = gone[at];
      if (!back) return null;
      for (const one of gone.slice(passed, at)) result.push(one);
      result.push({ ...back, after });
      passed = at + 1;
    } else {
      if (before) {
        for (const one of gone.slice(passed)) result.push(one);
        gone = [];
        passed = 0;
      }
      result.push(item);
    }
  }
  for (const one of gone.slice(passed)) result.push(one);
  return result;
}
