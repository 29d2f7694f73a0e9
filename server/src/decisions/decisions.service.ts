import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { EventEmitter } from 'node:events';
import { Transform } from 'prosemirror-transform';
import { nanoid } from 'nanoid';
import { DataSource, type EntityManager } from 'typeorm';
import { changeIds, counted, decideInParts, squareTables, type ChangeId, type Verdict } from '@tea-pencil/core';
import type { Outcome } from '@tea-pencil/wire';
import { DecisionRow } from '../database/entities.js';
import { Authority } from '../live/authority.js';
import { breathing } from '../live/breathing.js';
import { History } from '../live/history.js';
import { keepDraft } from '../database/kept-draft.js';
import { keepSummary, summaryOf } from '../database/kept-text.js';
import type { Batch } from '../live/step-log.js';
import { StepLog } from '../live/step-log.js';
import type { Author } from '../live/submissions.js';
import { may } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { entriesOf, forgetEntries, handOnEntries, keepEntries } from './entries.js';

/** A decision that has been kept, or taken back. */
export interface Decided {
  manuscript: string;
  decision: string;
  by: string;
  takenBack: boolean;
  verdict: Verdict;
  changes: { id: ChangeId; author: string }[];
}

/** Before so many changes are decided in one act a draft is kept. */
const many = 10;

/** Accepts and rejects changes, and takes that back. A client sends ids and a verdict; it is done on the server’s text. */
@Injectable()
export class Decisions {
  readonly events = new EventEmitter<{ decided: [Decided] }>();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly log: StepLog,
    private readonly history: History,
    private readonly memberships: Memberships,
  ) {}

  /** Why somebody may not decide these changes; null where they may. One who may propose may withdraw their own. */
  async #refusal(author: Author, which: readonly ChangeId[], verdict: Verdict): Promise<string | null> {
    const allowed = may('decide', author);
    if (allowed === true) return null;
    if (verdict === 'accept' || may('withdraw own changes', author) !== true) return allowed;
    const [known, mine] = await Promise.all([
      this.log.knownChanges(author.manuscriptId, which),
      this.memberships.idsOf(author.manuscriptId, author.personId),
    ]);
    return which.every((id) => mine.has(known.get(id)?.author ?? '')) ? null : allowed;
  }

  /** Accepts or rejects changes. */
  async decide(author: Author, which: ChangeId[], verdict: Verdict, client: string): Promise<Outcome> {
    const { manuscriptId: manuscript, personId: by } = author;
    const refused = await this.#refusal(author, which, verdict);
    if (refused !== null) return { refused };
    let ended: ChangeId[] = [];
    const outcome = await this.authority.write(manuscript, async (text) => {
      const tr = await breathing(decideInParts(new Transform(text.doc), which, verdict));
      if (!tr.steps.length) return { taken: true as const, version: text.version };
      squareTables(tr);
      const id = nanoid(12);
      const batch: Batch = { steps: tr.steps, author: by, intent: 'decision', client };
      const entries = await breathing(entriesOf(text.doc, tr.doc, which));
      const toVersion = text.version + tr.steps.length;
      const also = async (manager: EntityManager) => {
        const row = { id, manuscriptId: manuscript, verdict, changes: which, decidedBy: by };
        await manager.insert(DecisionRow, { ...row, fromVersion: text.version, toVersion });
        if (which.length >= many)
          await keepDraft(manager, {
            manuscriptId: manuscript,
            version: text.version,
            reason: 'decisions',
            before: `${verdict}ing ${counted(which.length, 'change')}`,
          });
        await keepEntries(manager, manuscript, { id, verdict, by }, entries);
        await keepSummary(manager, manuscript, toVersion, summaryOf(tr.doc));
      };
      ended = entries.filter(({ decided }) => decided).map((entry) => entry.id);
      return { tr, batch, also, id };
    });
    if ('taken' in outcome && outcome.decision) await this.#tell(manuscript, outcome.decision, by, verdict, ended);
    return outcome;
  }

  /** Says what has been decided, or taken back, and whose changes these are. */
  async #tell(
    manuscript: string,
    decision: string,
    by: string,
    verdict: Verdict,
    which: readonly ChangeId[],
    takenBack = false,
  ) {
    const known = await this.log.knownChanges(manuscript, which);
    const changes = [...known].map(([id, { author }]) => ({ id, author }));
    this.events.emit('decided', { manuscript, decision, by, takenBack, verdict, changes });
  }

  /**
   * Takes a decision back, whatever has been written since: its changes are pending again, where their words were.
   * @param which only these of its changes; the others stay decided, as one act of whoever decided them then
   */
  async takeBack(author: Author, id: string, client: string, which?: readonly ChangeId[]): Promise<Outcome> {
    const { manuscriptId: manuscript, personId: by } = author;
    let taken: Pick<DecisionRow, 'verdict' | 'changes'> | null = null;
    const outcome = await this.authority.write(manuscript, async (text) => {
      const decision = await this.database.getRepository(DecisionRow).findOneBy({ manuscriptId: manuscript, id });
      if (!decision) return { refused: 'There is no such decision in this manuscript.' };
      if (decision.takenBackAt) return { refused: 'This decision has been taken back already.' };
      // What one has decided oneself since the seal was put on is what one has withdrawn.
      const since = author.seal && decision.decidedAt >= author.seal.at;
      const own = since ? 'take back own withdrawals' : 'take back own decisions';
      const allowed = may(decision.decidedBy === by ? own : 'take back decisions', author);
      if (allowed !== true) return { refused: allowed };
      const back = new Set(which ?? decision.changes);
      const rest = decision.changes.filter((one) => !back.has(one));
      if ((which && which.length > back.size) || back.size + rest.length !== decision.changes.length)
        return { refused: 'One of these changes was not decided then.' };
      const undone = await this.history.undone(decision, text);
      if (!undone)
        return { refused: 'This decision cannot be taken back any more: the text around it has changed too far.' };
      const middle = text.version + undone.steps.length;
      const tr = rest.length ? await breathing(decideInParts(undone, rest, decision.verdict)) : undone;
      squareTables(tr);
      const pending = changeIds(tr.doc);
      if (!tr.steps.length || (which && !which.every((one) => pending.has(one))))
        return { refused: 'This decision cannot be taken back any more: its words have gone.' };
      const batch: Batch = { steps: tr.steps, author: by, intent: 'decision', client };
      const toVersion = text.version + tr.steps.length;
      const also = async (manager: EntityManager) => {
        await manager.update(DecisionRow, id, { takenBackBy: by, takenBackAt: new Date() });
        if (rest.length) {
          const { verdict, decidedBy, decidedAt } = decision;
          const stays = { id: nanoid(12), manuscriptId: manuscript, verdict, changes: rest, decidedBy, decidedAt };
          await manager.insert(DecisionRow, { ...stays, fromVersion: middle, toVersion });
          await handOnEntries(manager, manuscript, id, stays.id, [...pending.keys()]);
        }
        await forgetEntries(manager, manuscript, id);
        await keepSummary(manager, manuscript, toVersion, summaryOf(tr.doc));
      };
      taken = { verdict: decision.verdict, changes: [...back] };
      return { tr, batch, also };
    });
    const { verdict, changes } = taken ?? { verdict: 'accept' as const, changes: [] };
    if ('taken' in outcome) await this.#tell(manuscript, id, by, verdict, changes, true);
    return outcome;
  }
}
