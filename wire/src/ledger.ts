import type { LedgerFacts, Verdict } from '@tea-pencil/core';

/** What has become of a change: withdrawn by its author, removed with the words of another or by an unrecorded edit. */
export type ChangeState = 'pending' | 'withdrawn' | 'accepted' | 'rejected' | 'removed';
/** What can happen to a change. One that is undone is pending again. */
export type ChangeEventKind = Exclude<ChangeState, 'pending'> | 'proposed' | 'arrived' | 'undone';

/** Something that happened to a change. */
export interface ChangeEvent {
  kind: ChangeEventKind;
  by: string | null;
  /** ISO 8601. */
  at: string;
}

/** A change that is not pending any more. */
export interface DecidedChange extends LedgerFacts {
  id: string;
  number: number;
  author: string;
  date: string;
  /** Null for one that was not decided. */
  verdict: Verdict | null;
  state: Exclude<ChangeState, 'pending'>;
  /** Who ended it; null where the server mended the text. */
  decidedBy: string | null;
  /** ISO 8601. */
  decidedAt: string;
  /** The act it was decided in, which can be taken back. */
  decision: string | null;
}

/** The last decision that somebody made in a manuscript, of those that stand. */
export interface LastDecision {
  decision: string;
  verdict: Verdict;
  /** How many changes were decided in it, and whose they were. */
  many: number;
  authors: string[];
  /** Whether they have written nothing in the text since. */
  isLast: boolean;
}

export interface Ledger {
  /** The number of every change that has not been decided. Numbers never change. */
  numbers: [id: string, number: number][];
  decided: DecidedChange[];
  /** Changes that came later than their date says, with a file or after a time without a connection: when, and who brought them. */
  arrived: { id: string; at: string; by: string | null }[];
}
