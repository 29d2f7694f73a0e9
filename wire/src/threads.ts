import type { Place, Tint } from '@tea-pencil/core';

export interface NewComment {
  id: string;
  /** A remark; it comes from outside and is read before it is one. */
  body: unknown;
  query?: { to: string };
  proposal?: { words: string };
}

/** About words or a place, a change, or the whole: one of the three. */
export interface NewThread {
  id: string;
  at?: Place;
  change?: string;
  whole?: boolean;
  toSelf?: boolean;
  tint?: Tint;
  comment?: NewComment;
}

export interface EditedComment {
  body?: unknown;
  deleted?: boolean;
}
