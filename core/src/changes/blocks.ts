import type { Node } from 'prosemirror-model';
import { reviewMarks } from '../manuscript/schema.js';

/** Nodes never change, so what is found in one is kept with it: only blocks that were touched are looked at again. */
const found = new WeakMap<Node, boolean>();

const nothing: ReadonlySet<string> = new Set();
const deleted = new WeakMap<Node, ReadonlySet<string>>();

/** The changes that would delete something in a block, the block itself included. */
export function deletedIn(block: Node): ReadonlySet<string> {
  let ids = deleted.get(block);
  if (!ids) {
    const found = new Set<string>();
    const note = ({ marks }: Node) => {
      for (const { type, attrs } of marks)
        if (/^(deletion|openingDeleted)$/.test(type.name)) found.add(String(attrs.change));
    };
    note(block);
    block.descendants(note);
    deleted.set(block, (ids = found.size ? found : nothing));
  }
  return ids;
}

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
