import type { Node } from 'prosemirror-model';
import type { Remark } from '../threads/remark.js';

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

/** Something that someone did to a comment or a thread, and when. */
export interface Turn {
  by: PersonId;
  date: string;
}

export interface Comment {
  id: string;
  author: PersonId;
  date: string;
  body: Remark;
  /** When it was last changed. */
  edited?: string;
  /** When it was deleted. Others have answered it, so that this much is left of it. */
  deleted?: string;
  /** It asks someone for an answer; `settled` once they have given one, or it is not wanted any more. */
  query?: { to: PersonId; settled?: Turn };
  /** Other words for those it is about; `made` once they have become a change. */
  proposal?: { words: string; made?: Turn & { change: ChangeId } };
}

/** In which a passage can be highlighted. */
export const tints = ['sage', 'sky', 'clay'] as const;
export type Tint = (typeof tints)[number];

/** Where a thread is that no anchor fastens, in the text at a version of its log. */
export interface ThreadPlace {
  version: number;
  from: number;
  to: number;
}

/** A conversation: fastened to some words by `anchor` marks that bear its id, about a change, or about the whole. */
export interface Thread {
  id: ThreadId;
  author: PersonId;
  date: string;
  /** The change it is about, if it is about one. */
  change?: ChangeId;
  /** Whether it is about the manuscript as a whole. */
  whole?: true;
  /** Where it is, or was when its words went, if no anchor says so. */
  place?: ThreadPlace;
  /** The words it was about when it was begun. */
  quote: string;
  /** A note to its author and to nobody else. */
  toSelf?: true;
  /** It highlights its words; it need say nothing. */
  tint?: Tint;
  resolved: boolean;
  /** Who resolved it last, or opened it again. */
  turned?: Turn;
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
