import type { Loss } from '@tea-pencil/core';

/** A file that has come in as a manuscript. */
export interface BroughtIn {
  id: string;
  losses: Loss[];
  carried: Loss[];
}

/** How it stands with a file that one is bringing in. */
export interface Waiting {
  /** How many files are read or written before it; null where none of one's own waits. */
  ahead: number | null;
  /** How much of it has been read, from 0 to 1; null where that is not known. */
  part: number | null;
  /** How many changes of it have been read, and how many there are. */
  changes: { done: number; of: number } | null;
}
