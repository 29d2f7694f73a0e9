import type { Signature } from '../manuscript/signature.js';
import { schema } from '../manuscript/schema.js';
import { bring, type Target } from './plan.js';
import type { Token } from './row.js';

/** Openings that stand beside tables: the one after a table comes and goes with it. */

export const isTable = (target: Target | undefined): target is Target => target?.node.type === schema.nodes.table;

/** An opening between a new table and the old one whose place it takes; it goes whatever is decided. */
export function between(signature: Signature): Target {
  const { openingInserted, openingDeleted } = schema.marks;
  const paragraph = schema.nodes.paragraph.create(null, null, [
    openingInserted!.create(signature),
    openingDeleted!.create(signature),
  ]);
  return { kind: 'opening', text: '', node: paragraph, source: null, marks: paragraph.marks, attrs: paragraph.attrs };
}

/** A paragraph of its own after a new table, where the next one is itself pending and may go without the table. */
export function ownOpening(next: Pick<Token, 'kind' | 'text' | 'node'>, signature: Signature | null): Target {
  const node = next.node.type.create(next.node.attrs);
  return bring(next, node, signature ? [schema.marks.openingInserted.create(signature)] : []);
}
