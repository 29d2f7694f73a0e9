import { asText } from '../manuscript/values.js';

/** What the last look finds. */

/** The kinds of findings, in the order in which a list shows them. */
export const findingKinds = [
  'spelling',
  'repeated',
  'spaces',
  'punctuation',
  'sentence',
  'pairs',
  'mixed',
  'variants',
  'style',
  'order',
  'reference',
  'link',
  'empty',
  'highlight',
] as const;
export type FindingKind = (typeof findingKinds)[number];

/** What could be done about a finding. */
export interface Proposal {
  /** What would stand there instead; nothing, where the words would go. */
  text: string;
  /** Which part of the passage it would stand in the place of, where that is not the stretch of the finding. */
  from?: number;
  to?: number;
  /** What that is, where its words alone do not say it. */
  says?: string;
  /** The whole paragraph would go; or the words would be set in italics, or no longer carry a highlight. */
  how?: 'paragraph' | 'italic' | 'highlight';
}

/** A stretch of a passage where something may be wrong. */
export interface Found {
  kind: FindingKind;
  from: number;
  to: number;
  /** The words it is about. */
  words: string;
  /** What is wrong with them, in a sentence. */
  why: string;
  proposals: Proposal[];
  /** What it has in common with others of the same: they can be left together, and put right together. */
  such: string;
  /** Which language its words are of, where that matters. */
  language?: string;
  /** The change that has brought it in, where a pending one has. */
  change?: string;
  /** Where proposals are worked out only when somebody asks: for spelling. */
  later?: true;
}

/** A finding, and which passage of its block it is in. */
export interface Finding extends Found {
  /** The number of its passage in the block. */
  passage: number;
  /** What it is told by: what it is about, with the words around it. It stays as long as those do. */
  key: string;
}

/** How many letters around a finding tell it from others of the same kind. */
const around = 24;

/** What a finding is told by. @param text of its passage */
export const keyOf = ({ such, from, to }: Found, text: string): string =>
  // A letter of two halves that is cut in its midst leaves what no text can hold.
  asText(`${such}|${text.slice(Math.max(0, from - around), from)}|${text.slice(to, to + around)}`);
