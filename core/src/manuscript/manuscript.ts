import type { Node } from 'prosemirror-model';
import type { Person } from './people.js';
import type { Origin } from './origin.js';
import type { Thread } from './threads.js';

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
  /** The file it came from, where it is kept. */
  origin?: Origin;
}

/** Something a file held that a manuscript does not know, or the other way round. */
export interface Loss {
  what: string;
  where: string;
  howMany: number;
}

/** What reading a file gives. */
export interface Reading {
  manuscript: Manuscript;
  /** What could not be kept. */
  losses: Loss[];
  /** What is kept beside the text, and goes out again as it came. */
  carried: Loss[];
}
