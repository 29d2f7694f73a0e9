import type { FindingKind } from '@tea-pencil/core';
import type { DecidedAt, LastLookState } from '@tea-pencil/wire';
import type { Found } from './found';
import { sinceLast } from './remaining';

/** Which of the findings are looked at, and in which order. */

export type Which = 'all' | 'edits' | 'since';
export interface Choice {
  which: Which;
  /** Of one kind only; null for all. */
  kind: FindingKind | null;
}

/** What knows which decision was made where a finding is. */
interface Knows {
  decisionOf(finding: Found): DecidedAt | null;
}

export const whichWords: Readonly<Record<Which, [name: string, says: string]>> = {
  all: ['All', 'Everything that was found'],
  edits: ['By edits', 'What changes have brought in, pending or decided'],
  since: ['Since the last look', 'What stands in what has changed since the text was looked over'],
};

/** Whether an edit has brought a finding in: one that is pending, or one that was decided there. */
export const isBroughtIn = (finding: Found, { decisionOf }: Knows): boolean =>
  finding.change !== undefined || decisionOf(finding) !== null;

/** The findings of a choice: what edits have brought in first, each part in reading order. */
export function chosenOf(
  findings: readonly Found[],
  { which, kind }: Choice,
  look: Knows & { state: LastLookState | undefined },
): { broughtIn: Found[]; others: Found[] } {
  const those = which === 'since' ? sinceLast(findings, look.state) : findings;
  const ofKind = kind ? those.filter((one) => one.kind === kind) : those;
  const broughtIn = ofKind.filter((one) => isBroughtIn(one, look));
  const others = which === 'edits' ? [] : ofKind.filter((one) => !isBroughtIn(one, look));
  return { broughtIn, others };
}
