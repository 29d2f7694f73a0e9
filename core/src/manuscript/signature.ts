import type { Mark } from 'prosemirror-model';
import type { PersonId } from './people.js';
import { reviewMarks } from './schema.js';

export type ChangeId = string;

/** What all marks of one change have in common: which it is, who made it and when. */
export interface Signature {
  change: ChangeId;
  author: PersonId;
  /** ISO 8601 in UTC, to the second. */
  date: string;
}

/** Under whose name, when and under which ids an edit is recorded. */
export interface Stamp {
  author: PersonId;
  /** ISO 8601 in UTC, to the second. */
  date: string;
  newChange(): ChangeId;
  /** Whether the edit is a change of its own, though it touches another pending one of the same author. */
  apart?: boolean;
  /** Up to this date the author's own changes are fixed as well: what is pending of them is not taken back by editing. */
  fixedUntil?: string;
}

/** Whether a mark says who proposes what. */
export const isReview = (mark: Mark): boolean => reviewMarks.has(mark.type.name);

/** Whose change a mark is of; null for a mark that is of none. */
export const signatureOf = (mark: Mark): Signature | null => (isReview(mark) ? pick(mark.attrs as Signature) : null);
const pick = ({ change, author, date }: Signature): Signature => ({ change, author, date });

/** The change a mark is of, if it is of one. */
export const changeOf = ({ attrs }: Mark): ChangeId | undefined => attrs.change as ChangeId | undefined;

/** The date of a change or comment whose file says none; it is shown as “no date” and goes out without one again. */
export const noDate = '1970-01-01T00:00:00Z';

/** Whether a change is fixed: even its author does not take it back. */
export const isFixed = (mark: Mark, fixedUntil: string | undefined): boolean =>
  fixedUntil !== undefined && (mark.attrs.date as string) <= fixedUntil;

/** A moment as the manuscript keeps it: ISO 8601 in UTC to the second. */
export const toDate = (moment: Date): string => moment.toISOString().replace(/\.\d+Z$/, 'Z');
