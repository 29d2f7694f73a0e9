import type { Node } from 'prosemirror-model';
import type { ChangeId } from '../manuscript/signature.js';
import { deletedIn } from './blocks.js';
import { findChange, type Change, type Range } from './list.js';

/** A move: a passage that goes in one place and comes in another, as one change with two ends. */
export interface Move {
  /** Where the passage stood, and where it stands now. */
  from: Range;
  to: Range;
}

/** Whether a change is a move. */
export const isMove = (doc: Node, id: ChangeId): boolean =>
  doc.children.some((block) => deletedIn(block).has(id)) && findChange(doc, id)?.kind === 'move';

/** The two ends of a move, or null where the change is none. */
export function endsOf(doc: Node, change: Pick<Change, 'id' | 'kind' | 'ranges'>): Move | null {
  if (change.kind !== 'move') return null;
  const end = (type: RegExp): Range | undefined =>
    change.ranges.find(({ from, to }) => {
      let found = false;
      doc.nodesBetween(from, to, (node, pos) => {
        if (pos >= from || node.isText)
          found ||= node.marks.some((mark) => mark.attrs.change === change.id && type.test(mark.type.name));
      });
      return found;
    });
  const from = end(/^(deletion|openingDeleted)$/);
  const to = end(/^(insertion|openingInserted)$/);
  return from && to ? { from, to } : null;
}
