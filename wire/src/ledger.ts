import type { LedgerFacts, Verdict } from '@tea-pencil/core';

/** A change that is not pending any more. */
export interface DecidedChange extends LedgerFacts {
  id: string;
  number: number;
  author: string;
  date: string;
  /** Null for one that went with the words of another. */
  verdict: Verdict | null;
  decidedBy: string;
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
}
