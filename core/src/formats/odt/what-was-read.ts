import type { Node } from 'prosemirror-model';
import type { OdtFrame } from '../../manuscript/origin.js';
import type { Context } from './context.js';
import type { Found } from './read-blocks.js';

/** What was read, and where it stood. */
export interface WhatWasRead {
  context: Context;
  blocks: Node[];
  found: Found;
  frame: OdtFrame;
  /** The title that the file gives itself. */
  title: string | undefined;
}
