import type { Node } from 'prosemirror-model';
import { inSentence, type Piece } from './in-sentence.js';
import type { Change } from './list.js';

/** The facts that are kept of a change when it is decided, so that it can be told for ever. The wording is made when it is read. */
export interface LedgerFacts extends Pick<
  Change,
  'kind' | 'before' | 'after' | 'was' | 'now' | 'objects' | 'marks' | 'grid' | 'footnotes' | 'inNote' | 'whereabouts'
> {
  /** Where it began. */
  at: number;
  sentence: { before: Piece[]; after: Piece[] };
}

/** The facts of a pending change. */
export function ledgerFacts(doc: Node, change: Change): LedgerFacts {
  const { kind, before, after, was, now, objects, marks, grid, footnotes, inNote, whereabouts, ranges } = change;
  const at = ranges[0]?.from ?? 0;
  const facts = { kind, before, after, was, now, objects, marks, whereabouts, at, sentence: inSentence(doc, change) };
  return { ...facts, ...(grid && { grid }), ...(footnotes && { footnotes }), ...(inNote && { inNote }) };
}

/** What has become of a change that is not pending any more. */
export type Ended = 'withdrawn' | 'accepted' | 'rejected' | 'removed';
export const endedWord: Readonly<Record<Ended, string>> = {
  withdrawn: 'withdrawn',
  accepted: 'accepted',
  rejected: 'rejected',
  removed: 'removed with its words',
};

/** The same with whose doing it was; null where the server mended the text. */
export const endedWords = (state: Ended, by: string | null): string =>
  by === null ? 'removed when the text was mended' : `${endedWord[state]} by ${by}`;
