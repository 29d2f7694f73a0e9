import type { Node } from 'prosemirror-model';
import { changeOf, isReview, type ChangeId } from '../manuscript/signature.js';

/** Nodes never change, so what is found in one is kept with it: only blocks that were touched are looked at again. */

const nothing: ReadonlySet<ChangeId> = new Set();

/** For each block the changes that have a mark in it which the rule lets through, found once for each node. */
function remembered(isIts: (markName: string) => boolean): (block: Node) => ReadonlySet<ChangeId> {
  const known = new WeakMap<Node, ReadonlySet<ChangeId>>();
  return (block) => {
    let ids = known.get(block);
    if (!ids) {
      const found = new Set<ChangeId>();
      const note = ({ marks }: Node) => {
        for (const mark of marks) {
          const id = changeOf(mark);
          if (id !== undefined && isIts(mark.type.name)) found.add(id);
        }
      };
      note(block);
      block.descendants(note);
      known.set(block, (ids = found.size ? found : nothing));
    }
    return ids;
  };
}

/** The changes that would delete something in a block, the block itself included. */
export const deletedIn = remembered((name) => name === 'deletion' || name === 'openingDeleted');

/** The changes that have a part in a block, its own marks included. */
export const pendingIn = remembered(() => true);

const found = new WeakMap<Node, boolean>();

/** Whether anything is pending in a block, its own marks included. */
export function hasChanges(block: Node): boolean {
  let has = found.get(block);
  if (has === undefined) {
    has = block.marks.some(isReview);
    for (let i = 0; !has && i < block.childCount; i++) has = hasChanges(block.child(i));
    if (!block.isText) found.set(block, has);
  }
  return has;
}
