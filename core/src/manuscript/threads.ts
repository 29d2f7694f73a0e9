import type { PersonId } from './people.js';
import type { ChangeId } from './signature.js';

/** The shapes of talk: threads, the comments in them, and what a comment says. */

export type ThreadId = string;

export interface RemarkMark {
  type: 'bold' | 'italic' | 'link';
  attrs?: { href: string };
}
export type RemarkPiece =
  { type: 'text'; text: string; marks?: RemarkMark[] } | { type: 'mention'; attrs: { person: PersonId } };
export interface RemarkLine {
  type: 'line';
  attrs: { list: 'bullet' | 'number' | null };
  content?: RemarkPiece[];
}
/** What a comment says: lines of words, with people mentioned between them. */
export interface Remark {
  type: 'doc';
  content: RemarkLine[];
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
  proposal?: {
    words: string;
    /** In the place of which words; where that is not said, of those that the thread began with. */
    insteadOf?: string;
    made?: Turn & { change: ChangeId };
  };
}

/** In which a passage can be highlighted. */
export const tints = ['sage', 'sky', 'clay'] as const;
export type Tint = (typeof tints)[number];

/** A place of the text at a version of its log: a stretch of it, or (from equal to) a point. */
export interface Place {
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
  place?: Place;
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
