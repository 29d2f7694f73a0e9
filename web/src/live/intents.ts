import type { EditorState, Transaction } from 'prosemirror-state';
import { isHistoryTransaction } from 'prosemirror-history';
import { checkBatch, ink, record, toDate, type Intent } from '@tea-pencil/core';
import { nanoid } from 'nanoid';

/** What an editor's transaction becomes before it is applied: recorded in pencil, laid in ink, or left as it is. */

export type Hand = 'pencil' | 'ink';

export interface Writer {
  me: string;
  hand: Hand;
  mayInk: boolean;
}

export const intentOf = (tr: Transaction): Intent => (tr.getMeta('intent') as Intent | undefined) ?? 'pencil';

/** A transaction that is its own business: steps of others, anchors, what has been recorded already. */
const isSettled = (tr: Transaction) =>
  !tr.docChanged || tr.getMeta('intent') !== undefined || tr.getMeta('remote') !== undefined;

/** An undo or redo goes as what it turns out to be; null when someone else's decision stands in its way. */
function asUndo(state: EditorState, tr: Transaction, { me, mayInk }: Writer): Transaction | null {
  const sender = { author: me, now: new Date().toISOString(), known: () => undefined };
  for (const intent of mayInk ? (['pencil', 'ink'] as const) : (['pencil'] as const)) {
    if (!checkBatch(state.doc, tr.doc, tr.steps, tr.mapping, intent, sender)) return tr.setMeta('intent', intent);
  }
  return null;
}

/**
 * The transaction to apply instead of one that the editor made.
 * @returns null when nothing may be applied
 */
export function inHand(state: EditorState, tr: Transaction, writer: Writer): Transaction | null {
  if (isSettled(tr)) return tr;
  if (isHistoryTransaction(tr)) return asUndo(state, tr, writer);
  if (writer.hand === 'ink' && writer.mayInk) return ink(state, tr).setMeta('intent', 'ink');
  const stamp = { author: writer.me, date: toDate(new Date()), newChange: () => nanoid(12) };
  return record(state, tr, stamp).setMeta('intent', 'pencil');
}

/** The change a transaction of mark steps alone adds to, if it does: a deletion in pencil. */
export function deletionOf(tr: Transaction): string | null {
  if (!tr.docChanged || tr.mapping.maps.some((map) => map.toString() !== '[]')) return null;
  for (const step of tr.steps) {
    const { mark } = step as unknown as { mark?: { type: { name: string }; attrs: { change?: string } } };
    if (mark?.attrs.change && /eletion|Deleted/.test(mark.type.name)) return mark.attrs.change;
  }
  return null;
}
