import type { Node } from 'prosemirror-model';
import { ledgerFacts, listChanges, passingBetween, type ChangeId, type LedgerFacts } from '@tea-pencil/core';
import type { ChangeEventKind, LoggedIntent } from '@tea-pencil/wire';
import type { EntityManager } from 'typeorm';
import { portions } from '../database/portions.js';

/**
 * The log of changes: every change that ever existed has events, of which the last says what has become of it. A change
 * that begins is written down with its steps; all else is found here by comparing the text before and after a batch, so that
 * no way of editing can forget to.
 */

export interface ChangeEvent {
  id: ChangeId;
  kind: Exclude<ChangeEventKind, 'proposed' | 'arrived'>;
  /** In which decision. */
  decision: string | null;
  /** What it was when it ended. */
  entry: LedgerFacts | null;
}

/** Who did something to a text, and how. */
interface Doing {
  author: string | null;
  intent: LoggedIntent;
}

/**
 * The events of a batch that is no decision: changes that end with it, and those that are pending again.
 * @param fresh the changes that begin with it
 */
export function* eventsOf(
  before: Node,
  after: Node,
  { author }: Doing,
  fresh: ReadonlyMap<ChangeId, unknown>,
): Generator<undefined, ChangeEvent[]> {
  const { gone, come } = passingBetween(before, after);
  const events: ChangeEvent[] = come
    .filter((id) => !fresh.has(id))
    .map((id) => ({ id, kind: 'undone', decision: null, entry: null }));
  if (!gone.length) return events;
  const ended = new Set(gone);
  for (const change of listChanges(before)) {
    if (!ended.has(change.id)) continue;
    const kind = change.author === author ? 'withdrawn' : 'removed';
    events.push({ id: change.id, kind, decision: null, entry: ledgerFacts(before, change) });
    yield;
  }
  return events;
}

/** What is kept of a change after an event; the log itself is never changed. */
const keeping = `
  WITH one AS (
    SELECT * FROM jsonb_to_recordset($4::jsonb) AS one (id text, kind text, decision text, entry jsonb)
  ), logged AS (
    INSERT INTO change_events (manuscript_id, change_id, kind, by, version, decision_id)
    SELECT $1, id, kind, $2, $3, decision FROM one
  )
  UPDATE changes SET
    state = CASE kind WHEN 'undone' THEN 'pending' ELSE kind END,
    verdict = CASE kind WHEN 'accepted' THEN 'accept' WHEN 'rejected' THEN 'reject' END,
    decided_by = CASE WHEN kind <> 'undone' THEN $2 END,
    decided_at = CASE WHEN kind <> 'undone' THEN now() END,
    decision_id = one.decision,
    entry = coalesce(one.entry, CASE WHEN kind <> 'undone' THEN changes.entry END)
  FROM one WHERE manuscript_id = $1 AND change_id = one.id`;

/** Writes events down, as they happened with the steps that lead to a version. */
export async function keepEvents(
  manager: EntityManager,
  manuscript: string,
  { by, version }: { by: string | null; version: number },
  events: readonly ChangeEvent[],
): Promise<void> {
  for (const some of portions(events.map((event) => JSON.stringify(event))))
    await manager.query(keeping, [manuscript, by, version, `[${some.join()}]`]);
}
