import { isHistoryTransaction, redoDepth, undoDepth } from 'prosemirror-history';
import type { EditorState, Transaction } from 'prosemirror-state';
import type { Verdict } from '@tea-pencil/core';

export interface MyDecision {
  /** The act under which it can be taken back. */
  decision: string;
  changes: readonly string[];
  verdict: Verdict;
}
type Again = Omit<MyDecision, 'decision'>;

/**
 * What somebody has decided in this window, in one order with what they have written: what was done last is undone
 * first. A decision stands in the order where the steps back of the text, and the steps forward, had so many entries.
 */
export class MyDecisions {
  readonly #made: (MyDecision & { depth: number; written: boolean })[] = [];
  #undone: (Again & { depth: number })[] = [];

  /**
   * @param asked the text when it was asked for, which is when it was made
   * @param state the text now, in which more may have been written
   * @param again whether one that was taken back has been made once more
   */
  made(what: MyDecision, asked: EditorState, state: EditorState, again = false): void {
    const depth = undoDepth(asked);
    this.#made.push({ ...what, depth, written: undoDepth(state) > depth });
    if (!again) this.#undone = [];
  }

  /** Takes note of what was written, leading to a state. */
  wrote(tr: Transaction, state: EditorState): void {
    const fresh = !isHistoryTransaction(tr);
    if (fresh) this.#undone = [];
    const last = this.#made.at(-1);
    if (last) last.written = fresh || undoDepth(state) > last.depth;
  }

  /** The decision that is the last thing one did; null where that was writing, or nothing. */
  last(): MyDecision | null {
    const last = this.#made.at(-1);
    return last && !last.written ? last : null;
  }

  /** The decision that was the last thing one took back, to be made once more. */
  next(state: EditorState): Again | null {
    const next = this.#undone.at(-1);
    return next && redoDepth(state) <= next.depth ? next : null;
  }

  stands = (decision: string): boolean => this.#made.some((one) => one.decision === decision);

  /** A decision does not stand any more; @param state as one who may make it once more has the text */
  tookBack(decision: string, state: EditorState | null = null): void {
    const at = this.#made.findIndex((one) => one.decision === decision);
    const [gone] = at < 0 ? [] : this.#made.splice(at, 1);
    if (gone && state) this.#undone.push({ changes: gone.changes, verdict: gone.verdict, depth: redoDepth(state) });
  }

  madeAgain(): void {
    this.#undone.pop();
  }
}
