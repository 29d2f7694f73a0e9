import type { Counted } from '@tea-pencil/core';
import type { Row } from '../ledger/rows';

const verdicts = { accept: 'accepted', reject: 'rejected' } as const;

/** A row of the ledger as it is counted. */
export const countedRow = ({ seen, decided }: Pick<Row, 'seen' | 'decided'>): Counted => ({
  author: seen.author,
  kind: seen.kind,
  date: seen.date,
  before: seen.before,
  after: seen.after,
  heading: seen.whereabouts.heading,
  state: !decided ? 'pending' : decided.verdict === null ? 'gone' : verdicts[decided.verdict],
  decidedAt: decided?.decidedAt ?? null,
});
