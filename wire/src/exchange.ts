import type { Loss } from '@tea-pencil/core';

/** A file that has come in as a manuscript. */
export interface BroughtIn {
  id: string;
  losses: Loss[];
  carried: Loss[];
}

/** How many files are read or written before one's own; null where none of one's own waits. */
export interface Waiting {
  ahead: number | null;
}
