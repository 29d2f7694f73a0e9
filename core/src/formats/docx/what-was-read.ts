import type { Frame } from '../../manuscript/origin.js';
import type { Context } from './context.js';
import type { ReadBlock } from './read-blocks.js';
import type { FileThreads } from './read-comments.js';
import type { Notes } from './read-notes.js';

/** What was read, and where in the file it stood. */
export interface WhatWasRead {
  /** The part with the main text. */
  source: string;
  context: Context;
  blocks: ReadBlock[];
  /** Paragraphs in tables. */
  inner: ReadBlock[];
  threads: FileThreads;
  notes: Partial<Record<'foot' | 'end', Notes>>;
  frame: Frame;
}
