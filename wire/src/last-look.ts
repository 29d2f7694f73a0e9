import type { FindingKind, HouseStyle, Verdict } from '@tea-pencil/core';

/** The last look at a manuscript: what people have made of what it finds. */

/** A finding that somebody has left as it is, or all such. */
export interface LeftFinding {
  id: string;
  /** Which one it is, or what all of them have in common (`key` and `such` of a finding). */
  key: string;
  all: boolean;
  kind: FindingKind;
  words: string;
  by: string;
  /** ISO 8601. */
  at: string;
}

/** For whom a word is right: for everybody in the house, in one manuscript, or for one person. */
export type WordScope = 'house' | 'manuscript' | 'person';

/** A word that is right though no dictionary has it. */
export interface KeptWord {
  id: string;
  scope: WordScope;
  /** Of which language (BCP 47, the language alone). */
  language: string;
  word: string;
  by: string;
  at: string;
}

/** The last time somebody has said that they have looked the text over. */
export interface LookTaken {
  by: string;
  at: string;
  version: number;
  /** The prints of the blocks of the text as it was then. */
  prints: string[];
}

/** A style that a manuscript follows. */
export interface StyleInUse extends HouseStyle {
  id: string;
  version: number;
}

export interface LastLookState {
  left: LeftFinding[];
  words: KeptWord[];
  style: StyleInUse | null;
  last: LookTaken | null;
}

/** Places of a text at a version. */
export interface PlacesAsked {
  version: number;
  places: { from: number; to: number }[];
}

/** The decision that was made at a place: the last one, where there were several. */
export interface DecidedAt {
  change: string;
  author: string;
  verdict: Verdict;
  decidedBy: string;
  at: string;
}
