import type { Remark } from '@tea-pencil/core';

/** A comment that is being begun: on words, at a place, or on the whole. */
export interface Begun {
  /** The id the thread is to have. */
  id: string;
  from: number;
  to: number;
  quote: string;
  whole: boolean;
}

/** What is sent: words, and whom they ask, which wording they propose, whether they are for oneself. */
export interface Written {
  body: Remark;
  query?: { to: string };
  proposal?: { words: string };
  toSelf?: boolean;
}
