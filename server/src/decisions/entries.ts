import type { Node } from 'prosemirror-model';
import { changeIds, ledgerFacts, listChanges, type ChangeId, type Verdict } from '@tea-pencil/core';
import type { EntityManager } from 'typeorm';
import type { ChangeEvent } from '../live/change-log.js';

/** What the log of changes is told of a decision. */

interface Act {
  id: string;
  which: readonly ChangeId[];
  verdict: Verdict;
}

/** The events of a decision: the changes that it ends, decided in it or gone with the words of another. */
export function* eventsOfDecision(
  before: Node,
  after: Node,
  { id: decision, which, verdict }: Act,
): Generator<undefined, ChangeEvent[]> {
  const changes = listChanges(before);
  yield;
  const left = changeIds(after);
  const asked = new Set(which);
  const past = verdict === 'accept' ? 'accepted' : 'rejected';
  const events: ChangeEvent[] = [];
  for (const change of changes) {
    if (left.has(change.id)) continue;
    const kind = asked.has(change.id) ? past : 'removed';
    events.push({ id: change.id, kind, decision, entry: ledgerFacts(before, change) });
    yield;
  }
  return events;
}

/** Those of its changes that are not pending again are another decision's from now on. */
export async function handOnEntries(
  manager: EntityManager,
  manuscript: string,
  from: string,
  to: string,
  pending: readonly ChangeId[],
): Promise<void> {
  await manager.query(
    `UPDATE changes SET decision_id = $3 WHERE manuscript_id = $1 AND decision_id = $2 AND change_id NOT IN (SELECT unnest($4::text[]))`,
    [manuscript, from, to, pending],
  );
}

/** Those of the changes of a decision that has been taken back which are not pending again: their words went meanwhile. */
export async function loseEntries(
  manager: EntityManager,
  manuscript: string,
  decision: string,
  { by, version }: { by: string; version: number },
): Promise<void> {
  await manager.query(
    `WITH lost AS (
       UPDATE changes SET state = 'removed', verdict = NULL, decision_id = NULL, decided_by = $3, decided_at = now()
       WHERE manuscript_id = $1 AND decision_id = $2 RETURNING change_id
     )
     INSERT INTO change_events (manuscript_id, change_id, kind, by, version)
     SELECT $1, change_id, 'removed', $3, $4 FROM lost`,
    [manuscript, decision, by, version],
  );
}
