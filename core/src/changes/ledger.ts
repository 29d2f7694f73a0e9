import type { Node } from 'prosemirror-model';
import { describeChange, inSentence, type Piece } from './describe.js';
import type { Change } from './list.js';

/** What is kept of a change when it is decided, so that it can be read for ever. */
export interface LedgerEntry extends Pick<Change, 'kind' | 'before' | 'after' | 'was' | 'now' | 'place'> {
  /** Where it began. */
  at: number;
  /** What it did, in words. */
  said: string;
  sentence: { before: Piece[]; after: Piece[] };
}

/** A pending change as the ledger keeps it. */
export function ledgerEntry(doc: Node, change: Change): LedgerEntry {
  const { kind, before, after, was, now, place, ranges } = change;
  const sentence = inSentence(doc, change);
  return { kind, before, after, was, now, place, at: ranges[0]!.from, said: describeChange(change), sentence };
}
