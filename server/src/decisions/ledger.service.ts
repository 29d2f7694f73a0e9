import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Mapping } from 'prosemirror-transform';
import { DataSource } from 'typeorm';
import { ledgerFacts, listChanges } from '@tea-pencil/core';
import type { ChangeEvent, DecidedChange, LastDecision, Ledger } from '@tea-pencil/wire';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';
import { ChangeRow, DecisionRow } from '../database/entities.js';

/** So many steps since a decision are looked at, for whether it is the last thing somebody did. */
const mostLookedAt = 5000;

/** A decided change as it is kept; no entity is made of it, for there may be thousands. */
type Row = Omit<ChangeRow, 'manuscriptId' | 'serial'>;

/** Every change of a manuscript, from the first to the last. */
@Injectable()
export class LedgerService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly history: History,
  ) {}

  async list(manuscriptId: string): Promise<Ledger> {
    const numbered = await this.#numbered(manuscriptId);
    const rows = await this.database.query<Row[]>(
      `SELECT change_id AS "changeId", author, date, verdict, decided_by AS "decidedBy", decided_at AS "decidedAt",
         decision_id AS "decisionId", entry, state
       FROM changes WHERE manuscript_id = $1 AND state <> 'pending' ORDER BY serial`,
      [manuscriptId],
    );
    await this.#readOld(manuscriptId, rows);
    const numbers = new Map(numbered);
    const decided: DecidedChange[] = [];
    for (const { changeId, author, date, verdict, decidedBy, decidedAt, decisionId, entry, state } of rows) {
      const number = numbers.get(changeId);
      numbers.delete(changeId);
      if (!number || !entry || !decidedAt || state === 'pending') continue;
      const about = { id: changeId, number, author, date, verdict, decidedBy, state };
      decided.push({ ...entry, ...about, decidedAt: decidedAt.toISOString(), decision: decisionId });
    }
    return { numbers: [...numbers], decided, arrived: await this.#arrived(manuscriptId) };
  }

  /** The changes whose date is long before they were here. */
  async #arrived(manuscriptId: string): Promise<Ledger['arrived']> {
    const rows = await this.database.query<{ id: string; at: Date; by: string | null }[]>(
      `SELECT change_id AS id, at, by FROM change_events JOIN changes USING (manuscript_id, change_id)
       WHERE manuscript_id = $1 AND kind IN ('proposed', 'arrived') AND at > changes.date::timestamptz + interval '1 hour'
       ORDER BY change_events.serial`,
      [manuscriptId],
    );
    return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
  }

  /** All that has happened to a change, from the first to the last. */
  async events(manuscriptId: string, changeId: string): Promise<ChangeEvent[]> {
    const rows = await this.database.query<(Omit<ChangeEvent, 'at'> & { at: Date })[]>(
      'SELECT kind, by, at FROM change_events WHERE manuscript_id = $1 AND change_id = $2 ORDER BY serial',
      [manuscriptId, changeId],
    );
    return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
  }

  /** Every change with its number, in the order in which they were recorded: thousands, so no objects are made of them. */
  async #numbered(manuscriptId: string): Promise<[string, number][]> {
    const [found] = await this.database.query<{ ids: string[] | null }[]>(
      'SELECT array_agg(change_id ORDER BY serial) AS ids FROM changes WHERE manuscript_id = $1',
      [manuscriptId],
    );
    return (found?.ids ?? []).map((id, i) => [id, i + 1]);
  }

  /** What was decided before entries were kept is read from the text as it was then, and kept. */
  async #readOld(manuscriptId: string, rows: readonly Row[]): Promise<void> {
    const old = rows.filter(({ decisionId, entry }) => decisionId !== null && entry === null);
    for (const id of new Set(old.map(({ decisionId }) => decisionId!))) {
      const decision = await this.database.getRepository(DecisionRow).findOneByOrFail({ manuscriptId, id });
      const before = await this.history.textAt(manuscriptId, decision.fromVersion);
      const changes = new Map(listChanges(before).map((change) => [change.id, change]));
      for (const row of old.filter(({ decisionId, changeId }) => decisionId === id && changes.has(changeId))) {
        row.entry = ledgerFacts(before, changes.get(row.changeId)!);
        await this.database.query('UPDATE changes SET entry = $3 WHERE manuscript_id = $1 AND change_id = $2', [
          manuscriptId,
          row.changeId,
          JSON.stringify(row.entry),
        ]);
      }
    }
  }

  async last(manuscriptId: string, personId: string): Promise<LastDecision | null> {
    const [found] = await this.database.query<(LastDecision & { to_version: number })[]>(
      `SELECT id AS decision, verdict, cardinality(changes) AS many, to_version, ARRAY(
         SELECT DISTINCT author FROM changes WHERE manuscript_id = $1 AND decision_id = decisions.id
       ) AS authors
       FROM decisions WHERE manuscript_id = $1 AND decided_by = $2 AND taken_back_at IS NULL
       ORDER BY decided_at DESC, to_version DESC LIMIT 1`,
      [manuscriptId, personId],
    );
    if (!found) return null;
    const { to_version: from, ...last } = found;
    const [since] = await this.database.query<{ many: number; mine: boolean }[]>(
      `SELECT count(*)::int AS many, coalesce(bool_or(author = $2 AND intent IN ('pencil', 'ink')), false) AS mine
       FROM (SELECT author, intent FROM steps WHERE manuscript_id = $1 AND version >= $3
             ORDER BY version LIMIT ${mostLookedAt}) AS steps`,
      [manuscriptId, personId, from],
    );
    return { ...last, isLast: !since!.mine && since!.many < mostLookedAt };
  }

  async place(manuscriptId: string, changeId: string): Promise<number | null> {
    const row = await this.database.getRepository(ChangeRow).findOneBy({ manuscriptId, changeId });
    if (!row?.entry || row.decisionId === null) return null;
    const decisions = this.database.getRepository(DecisionRow);
    const { fromVersion } = await decisions.findOneByOrFail({ manuscriptId, id: row.decisionId });
    const text = await this.authority.text(manuscriptId);
    if (!text) return null;
    return new Mapping(await this.history.maps(manuscriptId, fromVersion, text.version)).map(row.entry.at);
  }
}
