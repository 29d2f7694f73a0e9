import { counted, type Verdict } from '@tea-pencil/core';

/** A decision in a few words: "accepted 36 changes". */
export const decidedWords = (verdict: Verdict, many: number): string =>
  `${verdict === 'accept' ? 'accepted' : 'rejected'} ${counted(many, 'change')}`;
