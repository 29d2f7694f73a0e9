import type { Node } from 'prosemirror-model';
import type { ChangeId } from '../manuscript/signature.js';
import { pendingIn } from './blocks.js';

/** Which changes stop being pending with an edit, and which begin to be. */
export interface Passing {
  gone: ChangeId[];
  come: ChangeId[];
}

/**
 * The changes that are pending in one text and not in the other. Only blocks that differ are looked into; the others are
 * asked about a change that seems to have gone or come.
 */
export function passingBetween(before: Node, after: Node): Passing {
  let first = 0;
  while (first < before.childCount && first < after.childCount && before.child(first) === after.child(first)) first++;
  let [endBefore, endAfter] = [before.childCount, after.childCount];
  while (endBefore > first && endAfter > first && before.child(endBefore - 1) === after.child(endAfter - 1)) {
    endBefore--;
    endAfter--;
  }
  const within = (blocks: readonly Node[]) => new Set(blocks.flatMap((block) => [...pendingIn(block)]));
  const [was, is] = [within(before.children.slice(first, endBefore)), within(after.children.slice(first, endAfter))];
  const elsewhere = (id: ChangeId) =>
    after.children.some((block, i) => (i < first || i >= endAfter) && pendingIn(block).has(id));
  return {
    gone: [...was].filter((id) => !is.has(id) && !elsewhere(id)),
    come: [...is].filter((id) => !was.has(id) && !elsewhere(id)),
  };
}
