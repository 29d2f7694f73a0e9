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

/** The hash of a passphrase without which nobody is to edit unrecorded, as a file keeps it. */
export interface Protection {
  algorithm: HashName;
  /** In base64. */
  salt: string;
  hash: string;
  /** How often the hash was hashed again. */
  spins: number;
}
export type HashName = 'SHA-1' | 'SHA-256' | 'SHA-384' | 'SHA-512';

/** What reading a file gives. */
export interface Reading {
  manuscript: Manuscript;
  /** What could not be kept. */
  losses: Loss[];
  /** What is kept beside the text, and goes out again as it came. */
  carried: Loss[];
  /** The title that the file gives itself, where it does. */
  title?: string;
  /** Whether it lets nobody edit without recording, and what must be known to lift that. */
  protection?: Protection | 'without passphrase';
}
