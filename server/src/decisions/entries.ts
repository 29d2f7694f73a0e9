import type { Node } from 'prosemirror-model';
import { changeIds, ledgerFacts, listChanges, type ChangeId, type LedgerFacts, type Verdict } from '@tea-pencil/core';
import type { EntityManager } from 'typeorm';
import { ChangeRow } from '../database/entities.js';
import { portions } from '../database/portions.js';

/** What the ledger keeps of changes that a decision ends. */

/** A change that has ended, and whether it was decided or went with the words of another. */
export interface Ended {
  id: ChangeId;
  decided: boolean;
  entry: LedgerFacts;
}

/** The changes that are pending before a decision and not after it, one by one. */
export function* entriesOf(before: Node, after: Node, which: readonly ChangeId[]): Generator<undefined, Ended[]> {
  const changes = listChanges(before);
  yield;
  const left = changeIds(after);
  const asked = new Set(which);
  const ended: Ended[] = [];
  for (const change of changes) {
    if (left.has(change.id)) continue;
    ended.push({ id: change.id, decided: asked.has(change.id), entry: ledgerFacts(before, change) });
    yield;
  }
  return ended;
}

interface Act {
  id: string;
  verdict: Verdict;
  by: string;
}

export async function keepEntries(
  manager: EntityManager,
  manuscript: string,
  { id, verdict, by }: Act,
  ended: readonly Ended[],
): Promise<void> {
  const rows = ended.map((one) =>
    JSON.stringify({ id: one.id, verdict: one.decided ? verdict : null, entry: one.entry }),
  );
  for (const some of portions(rows))
    await manager.query(
      `UPDATE changes SET verdict = one.verdict, decided_by = $2, decided_at = now(), decision_id = $3, entry = one.entry
       FROM jsonb_to_recordset($4::jsonb) AS one (id text, verdict text, entry jsonb)
       WHERE manuscript_id = $1 AND changes.change_id = one.id`,
      [manuscript, by, id, `[${some.join()}]`],
    );
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

/** Its changes are pending again. */
export async function forgetEntries(manager: EntityManager, manuscriptId: string, decisionId: string): Promise<void> {
  const pending = { verdict: null, decidedBy: null, decidedAt: null, decisionId: null, entry: null };
  await manager.update(ChangeRow, { manuscriptId, decisionId }, pending);
}
