import type { Node } from 'prosemirror-model';
import type { Finding, Inconsistency } from '@tea-pencil/core';

/** A finding, and in which block of the text it is. */
export interface Found extends Finding {
  block: Node;
}

/** What the last look has found. */
export interface Looked {
  /** The text that was looked at; null before the first time. */
  doc: Node | null;
  found: readonly Found[];
  inconsistencies: readonly Inconsistency[];
  unread: readonly { language: string; words: number }[];
  words: number;
  /** How far it is while it looks, from 0 to 1; null where it does not. */
  looking: number | null;
  /** What went wrong, in sentences. */
  problems: readonly string[];
}
