import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Mapping, Step } from 'prosemirror-transform';
import { DataSource } from 'typeorm';
import { ledgerEntry, listChanges, schema, type LedgerEntry } from '@tea-pencil/core';
import { StepLog } from '../collaboration/step-log.js';
import { ChangeRow, DecisionRow } from '../database/entities.js';

/** A change that is not pending any more. */
export interface DecidedChange extends LedgerEntry {
  id: string;
  number: number;
  author: string;
  date: string;
  /** Null for one that went with the words of another. */
  verdict: 'accept' | 'reject' | null;
  decidedBy: string;
  decidedAt: Date;
  /** The act it was decided in, which can be taken back. */
  decision: string | null;
}

export interface Ledger {
  /** The number of every change that has not been decided. Numbers never change. */
  numbers: [id: string, number: number][];
  decided: DecidedChange[];
}

/** Every change of a manuscript, from the first to the last. */
@Injectable()
export class LedgerService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly log: StepLog,
  ) {}

  async list(manuscriptId: string): Promise<Ledger> {
    const rows = await this.database
      .getRepository(ChangeRow)
      .find({ where: { manuscriptId }, order: { serial: 'ASC' } });
    await this.#readOld(manuscriptId, rows);
    const numbers: Ledger['numbers'] = [];
    const decided: DecidedChange[] = [];
    rows.forEach(({ changeId, author, date, verdict, decidedBy, decidedAt, decisionId, entry }, i) => {
      if (decidedBy === null) numbers.push([changeId, i + 1]);
      else if (entry) {
        const about = { id: changeId, number: i + 1, author, date, verdict, decidedBy, decidedAt: decidedAt! };
        decided.push({ ...entry, ...about, decision: decisionId });
      }
    });
    return { numbers, decided };
  }

  /** What was decided before entries were kept is read from the text as it was then, and kept. */
  async #readOld(manuscriptId: string, rows: readonly ChangeRow[]): Promise<void> {
    const old = rows.filter(({ decisionId, entry }) => decisionId !== null && entry === null);
    for (const id of new Set(old.map(({ decisionId }) => decisionId!))) {
      const decision = await this.database.getRepository(DecisionRow).findOneByOrFail({ manuscriptId, id });
      const before = await this.log.textAt(manuscriptId, decision.fromVersion);
      const changes = new Map(listChanges(before).map((change) => [change.id, change]));
      for (const row of old.filter(({ decisionId, changeId }) => decisionId === id && changes.has(changeId))) {
        row.entry = ledgerEntry(before, changes.get(row.changeId)!);
        await this.database.getRepository(ChangeRow).save(row);
      }
    }
  }

  async place(manuscriptId: string, changeId: string): Promise<number | null> {
    const row = await this.database.getRepository(ChangeRow).findOneBy({ manuscriptId, changeId });
    if (!row?.entry || row.decisionId === null) return null;
    const decisions = this.database.getRepository(DecisionRow);
    const { fromVersion } = await decisions.findOneByOrFail({ manuscriptId, id: row.decisionId });
    const rows = await this.log.since(manuscriptId, fromVersion);
    return new Mapping(rows.map(({ step }) => Step.fromJSON(schema, step).getMap())).map(row.entry.at);
  }
}
