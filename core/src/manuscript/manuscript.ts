import type { Node } from 'prosemirror-model';

/** Who someone is, as an identifier. Names are kept beside the text, so that a new name shows everywhere at once. */
export type PersonId = string;
export type ChangeId = string;
export type ThreadId = string;

export interface Person {
  id: PersonId;
  name: string;
  initials: string;
}

/** Under whose name, when and under which ids an edit is recorded. */
export interface Stamp {
  author: PersonId;
  /** ISO 8601 in UTC, to the second. */
  date: string;
  newChange(): ChangeId;
  /** Whether the edit is a change of its own, though it touches another pending one of the same author. */
  apart?: boolean;
}

export interface Comment {
  id: string;
  author: PersonId;
  date: string;
  text: string;
}

/** A conversation fastened to some words by `anchor` marks that bear its id, or to a change. */
export interface Thread {
  id: ThreadId;
  /** The change it is about, if it is about one. */
  change?: ChangeId;
  /** The words the thread was about when it was begun. */
  quote: string;
  resolved: boolean;
  comments: Comment[];
}

/** A picture or other file that the text refers to. */
export interface Asset {
  id: string;
  type: string;
  bytes: Uint8Array;
}

export interface Manuscript {
  doc: Node;
  people: Person[];
  threads: Thread[];
  assets: Asset[];
}

/** Something a file held that a manuscript cannot, or the other way round. */
export interface Loss {
  what: string;
  where: string;
  howMany: number;
}

export interface Reading {
  manuscript: Manuscript;
  losses: Loss[];
}

/** A moment as the manuscript keeps it: ISO 8601 in UTC to the second. */
export const toDate = (moment: Date): string => moment.toISOString().replace(/\.\d+Z$/, 'Z');

/** The initials a name suggests: the first letters of its first and last words. */
export function initialsOf(name: string): string {
  const words = name.trim().split(/\s+/).filter(Boolean);
  const letters = words.length > 1 ? [words[0], words[words.length - 1]] : words;
  return letters.map((word) => [...word!][0]!.toUpperCase()).join('') || '?';
}

/** How someone is called whom a file does not name. */
export const unnamed = 'Unnamed';
