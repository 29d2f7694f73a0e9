import type { Node } from 'prosemirror-model';
import { reviewMarks } from '../manuscript/schema.js';

/** Nodes never change, so what is found in one is kept with it: only blocks that were touched are looked at again. */
const found = new WeakMap<Node, boolean>();

/** Whether anything is pending in a block, its own marks included. */
export function hasChanges(block: Node): boolean {
  let has = found.get(block);
  if (has === undefined) {
    has = block.marks.some((mark) => reviewMarks.has(mark.type.name));
    for (let i = 0; !has && i < block.childCount; i++) has = hasChanges(block.child(i));
    if (!block.isText) found.set(block, has);
  }
  return has;
}
