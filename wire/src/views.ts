import type { ChangeKind } from '@tea-pencil/core';

/** Which way a text is read: with its marks, as if all were accepted, as if all were rejected. */
export type ReadAs = 'marked' | 'fair' | 'before';

/** How the marked reading runs. */
export type Flow = 'both' | 'fair' | 'before';

/** How someone looks at a manuscript. */
export interface Look {
  reading: ReadAs;
  flow: Flow;
  /** Kinds of changes that are folded to a number at the sheet's edge. */
  folded: ChangeKind[];
  /** Notes in the edit margin: of all changes, or of the one the caret is in. */
  notes: 'all' | 'caret';
  /** Threads: in the talk margin, or as small signs in the text. */
  talk: 'margin' | 'signs';
  /** Whether the headings stand beside the spine. */
  outline: boolean;
}

/** How the ledger is laid out: which columns are hidden, and how wide in pixels those are that were drawn. */
export interface LedgerLook {
  hidden: string[];
  widths: Record<string, number>;
}

/** A lens that was kept under a name. */
export interface KeptLens {
  name: string;
  query: string;
}

/** In which order a read-through goes. */
export type Order = 'place' | 'author' | 'oldest';

/** Where a read-through was left. */
export interface LeftAt {
  order: Order;
  change: string | null;
  at: number;
  skipped: string[];
  done: number;
}

/** What is remembered of how someone looks at a manuscript. */
export interface View {
  look?: Look;
  lenses?: KeptLens[];
  ledger?: LedgerLook;
  readThrough?: LeftAt | null;
}
