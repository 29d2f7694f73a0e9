import type { Chosen, Fate, FormatName } from '@tea-pencil/core';

/** How a fair copy is to be made. */
export interface FairCopyAsked {
  /** What becomes of the changes of each kind and person that are pending, as they were seen. */
  chosen: Chosen[];
  format: FormatName;
  /** Whether nothing in both files is to name people, but for the changes and comments of the marked copy. */
  nameless: boolean;
  /** Whether nothing in them is to run or to be fetched from elsewhere. */
  inert: boolean;
}

/** Which of its files. */
export type FairCopyFile = 'clean' | 'marked';

/** A file as it was made: what stands here says whether one is that file. */
export interface MadeFile {
  name: string;
  bytes: number;
  /** In hexadecimal digits (FIPS 180-4). */
  sha256: string;
}

/** How many changes somebody has decided in a manuscript, and from when to when (ISO 8601). */
export interface Decider {
  person: string;
  accepted: number;
  rejected: number;
  first: string;
  last: string;
}

/** What is known of a fair copy for as long as there is one. */
export interface FairCopyFacts {
  format: FormatName;
  nameless: boolean;
  /** What became of the changes that were pending then. */
  fates: Record<Fate, number>;
  /** Who has decided in this manuscript until then, this act included. */
  deciders: Decider[];
  /** Words of the clean file. */
  words: number;
  /** Threads that are in the marked copy, how many of them open, and queries that nobody has answered. */
  threads: number;
  open: number;
  queries: number;
  /** Changes inside things of the file that only another program can decide; they are in both files. */
  inside: number;
  clean: MadeFile;
  marked: MadeFile;
}

export interface FairCopy extends FairCopyFacts {
  id: string;
  /** The version of the text that it is. */
  version: number;
  madeBy: string;
  /** ISO 8601. */
  at: string;
  takenBack: { by: string; at: string } | null;
}
