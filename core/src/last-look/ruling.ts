import type { Found } from './finding.js';
import type { Passage } from './passage.js';
import type { Inconsistency } from './ways.js';

/** Rules that somebody has made, as the last look asks them. */
export interface Ruling {
  checks: readonly Check[];
  /** Whether a word is right by them, whatever dictionaries say. */
  isRight(word: string): boolean;
  /** Whether they say which of several ways of writing is right: what goes against that is found by a check. */
  settles(one: Inconsistency): boolean;
}

export interface Check {
  /** The number of the rule it comes from. */
  rule: number;
  /** Whether it runs an expression that somebody wrote, which may never come to an end. */
  open: boolean;
  /** One of these stands in every passage in which it can find anything (see `partsOf`); null where that cannot be said. */
  needs: readonly string[] | null;
  findings(passage: Passage, language: string): Found[];
}
