import type { Loss } from '@tea-pencil/core';

/** A file that has come in as a manuscript. */
export interface BroughtIn {
  id: string;
  losses: Loss[];
}
