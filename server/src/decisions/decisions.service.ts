import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { EventEmitter } from 'node:events';
import { Transform } from 'prosemirror-transform';
import { nanoid } from 'nanoid';
import { DataSource, type EntityManager } from 'typeorm';
import { changeIds, counted, decideInParts, squareTables, type ChangeId, type Verdict } from '@tea-pencil/core';
import type { Asking, Outcome } from '@tea-pencil/wire';
import { DecisionRow } from '../database/entities.js';
import { Authority } from '../live/authority.js';
import type { ChangeEvent } from '../live/change-log.js';
import { breathing } from '../live/breathing.js';
import { History } from '../live/history.js';
import { keepDraft } from '../database/kept-draft.js';
import { keepSummary, summaryOf } from '../database/kept-text.js';
import type { Batch } from '../live/step-log.js';
import { StepLog } from '../live/step-log.js';
import type { Author } from '../live/submissions.js';
import { FairTurns } from '../work/turns.js';
import { may, type Permission } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { eventsOfDecision, handOnEntries, loseEntries } from './entries.js';

/** A decision that has been kept, or taken back. */
export interface Decided {
  manuscript: string;
  decision: string;
  by: string;
  takenBack: boolean;
  verdict: Verdict;
  changes: { id: ChangeId; author: string }[];
}

/** What is decided in one way. */
export interface Part {
  which: ChangeId[];
  verdict: Verdict;
}

/** A fair copy that decisions are made for: of which version, and what else is kept in the same moment. */
export interface ForFairCopy {
  fairCopy: string;
  version: number;
  also(manager: EntityManager, toVersion: number): Promise<void>;
}

/** A decision that is made, not kept yet. */
interface Made extends Part {
  id: string;
  fromVersion: number;
  toVersion: number;
  events: ChangeEvent[];
}

/** Before so many changes are decided in one act a draft is kept. */
const manyInOneAct = 10;

const noDecision = 'There is no such decision in this manuscript.';

/** Why somebody may not take a decision, or some of its changes, back; null where they may. */
function refusesTakingBack(author: Author, decision: DecisionRow | null, which?: readonly ChangeId[]): string | null {
  if (!decision) return noDecision;
  if (decision.takenBackAt) return 'This decision has been taken back already.';
  // What one has decided oneself since the seal was put on is what one has withdrawn.
  const since = author.seal && decision.decidedAt >= author.seal.at;
  const own = since ? 'take back own withdrawals' : 'take back own decisions';
  const allowed = may(decision.decidedBy === author.personId ? own : 'take back decisions', author);
  if (allowed !== true) return allowed;
  const decided = new Set(decision.changes);
  const wasDecided = !which || (new Set(which).size === which.length && which.every((one) => decided.has(one)));
  return wasDecided ? null : 'One of these changes was not decided then.';
}

/** Whether a decision was taken back by just this asking, of which the answer was lost. */
const isRepeated = (author: Author, decision: DecisionRow | null, { asked }: Asking): boolean =>
  asked !== undefined && decision?.takenBackBy === author.personId && decision.takenBackAsked === asked;

/** Accepts and rejects changes, and takes that back. A client sends ids and a verdict; it is done on the server’s text. */
@Injectable()
export class Decisions {
  readonly events = new EventEmitter<{ decided: [Decided] }>();
  /** Reading what decisions did: a whole text for each. */
  readonly #reading = new FairTurns();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly log: StepLog,
    private readonly history: History,
    private readonly memberships: Memberships,
  ) {}

  /** Whether somebody may decide these changes. One who may propose may withdraw their own. */
  async #mayDecide(author: Author, { which, verdict }: Part): Promise<Permission> {
    const allowed = may('decide', author);
    if (allowed === true) return true;
    if (verdict === 'accept' || may('withdraw own changes', author) !== true) return allowed;
    const [known, mine] = await Promise.all([
      this.log.knownChanges(author.manuscriptId, which),
      this.memberships.idsOf(author.manuscriptId, author.personId),
    ]);
    return which.every((id) => mine.has(known.get(id)?.author ?? '')) || allowed;
  }

  /** Accepts or rejects changes. */
  decide(author: Author, which: ChangeId[], verdict: Verdict, asking: Asking): Promise<Outcome> {
    return this.#make(author, [{ which, verdict }], asking);
  }

  /** Accepts some changes and rejects others in one moment, for a fair copy of just that version. */
  decideFor(author: Author, parts: readonly Part[], act: ForFairCopy): Promise<Outcome> {
    return this.#make(author, parts, { client: 'server' }, act);
  }

  async #make(author: Author, parts: readonly Part[], asking: Asking, act?: ForFairCopy): Promise<Outcome> {
    const { manuscriptId: manuscript, personId: by } = author;
    const { client, asked } = asking;
    let made: Made[] = [];
    const allows = async (member: Author): Promise<Permission> => {
      for (const part of parts) {
        const allowed = await this.#mayDecide(member, part);
        if (allowed !== true) return allowed;
      }
      return !act || may('decide', member);
    };
    const outcome = await this.authority.write(manuscript, { personId: by, allows }, async (text) => {
      if (act && act.version !== text.version) return { behind: true };
      made = [];
      const earlier =
        asked !== undefined &&
        (await this.database.getRepository(DecisionRow).findOneBy({ manuscriptId: manuscript, decidedBy: by, asked }));
      if (earlier) return { taken: true as const, version: text.version, decision: earlier.id };
      const tr = new Transform(text.doc);
      for (const { which, verdict } of parts) {
        const before = tr.doc;
        const fromVersion = text.version + tr.steps.length;
        await breathing(decideInParts(tr, which, verdict));
        if (tr.doc === before) continue;
        squareTables(tr);
        const id = nanoid(12);
        const events = await breathing(eventsOfDecision(before, tr.doc, { id, which, verdict }));
        const toVersion = text.version + tr.steps.length;
        made.push({ id, which, verdict, fromVersion, toVersion, events });
      }
      const toVersion = text.version + tr.steps.length;
      if (!made.length && !act) return { taken: true as const, version: toVersion };
      const events = made.flatMap((one) => one.events);
      const batch: Batch = { steps: tr.steps, author: by, intent: 'decision', client, events };
      const many = parts.reduce((n, { which }) => n + which.length, 0);
      const before = act ? 'making a fair copy' : `${parts[0]!.verdict}ing ${counted(many, 'change')}`;
      const also = async (manager: EntityManager) => {
        for (const { id, which, verdict, events: _, ...versions } of made) {
          const row = { id, manuscriptId: manuscript, verdict, changes: which, decidedBy: by, asked, ...versions };
          await manager.insert(DecisionRow, { ...row, fairCopy: act?.fairCopy ?? null });
        }
        if (many >= (act ? 1 : manyInOneAct))
          await keepDraft(manager, { manuscriptId: manuscript, version: text.version, reason: 'decisions', before });
        if (made.length) await keepSummary(manager, manuscript, toVersion, summaryOf(tr.doc));
        await act?.also(manager, toVersion);
      };
      return { tr, batch, also, ...(made[0] && { id: made[0].id }) };
    });
    if ('taken' in outcome)
      for (const { id, verdict, events } of made) {
        const decided = events.filter(({ kind }) => kind !== 'removed').map((one) => one.id);
        await this.#tell(manuscript, id, by, verdict, decided);
      }
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
  async takeBack(author: Author, id: string, asking: Asking, which?: readonly ChangeId[]): Promise<Outcome> {
    const { manuscriptId: manuscript, personId: by } = author;
    let taken: Pick<DecisionRow, 'verdict' | 'changes'> | null = null;
    const find = () => this.database.getRepository(DecisionRow).findOneBy({ manuscriptId: manuscript, id });
    // What it did never changes, so it is read before others have to wait; of many who ask at once one after the other.
    const read = await this.#reading.of(author.personId, async () => {
      const first = await find();
      if (isRepeated(author, first, asking)) return null;
      const wrong = refusesTakingBack(author, first, which);
      return !first || wrong !== null ? { refused: wrong ?? noDecision } : await this.history.inverses(first);
    });
    if (read && 'refused' in read) return read;
    // What one may take back depends on the decision, which is read first.
    const asker = { personId: by, allows: () => true as const };
    const outcome = await this.authority.write(manuscript, asker, async (text, member) => {
      const decision = await find();
      if (isRepeated(author, decision, asking)) return { taken: true, version: text.version };
      const refused = refusesTakingBack(member, decision, which);
      if (!decision || refused !== null) return { refused: refused ?? noDecision };
      const those = new Set(which ?? decision.changes);
      const rest = decision.changes.filter((one) => !those.has(one));
      const undone = read && (await this.history.undone(decision, read, text));
      if (!undone)
        return { refused: 'This decision cannot be taken back any more: the text around it has changed too far.' };
      const middle = text.version + undone.steps.length;
      const tr = rest.length ? await breathing(decideInParts(undone, rest, decision.verdict)) : undone;
      squareTables(tr);
      const pending = changeIds(tr.doc);
      if (!tr.steps.length || (which && !which.every((one) => pending.has(one))))
        return { refused: 'This decision cannot be taken back any more: its words have gone.' };
      const { client, asked } = asking;
      const batch: Batch = { steps: tr.steps, author: by, intent: 'decision', client };
      const toVersion = text.version + tr.steps.length;
      const also = async (manager: EntityManager) => {
        await manager.update(DecisionRow, id, { takenBackBy: by, takenBackAt: new Date(), takenBackAsked: asked });
        if (rest.length) {
          const { verdict, decidedBy, decidedAt, fairCopy } = decision;
          const stays = {
            id: nanoid(12),
            manuscriptId: manuscript,
            verdict,
            changes: rest,
            decidedBy,
            decidedAt,
            fairCopy,
          };
          await manager.insert(DecisionRow, { ...stays, fromVersion: middle, toVersion });
          await handOnEntries(manager, manuscript, id, stays.id, [...pending.keys()]);
        }
        await loseEntries(manager, manuscript, id, { by, version: toVersion });
        await keepSummary(manager, manuscript, toVersion, summaryOf(tr.doc));
      };
      taken = { verdict: decision.verdict, changes: [...those] };
      return { tr, batch, also };
    });
    const { verdict, changes } = taken ?? { verdict: 'accept' as const, changes: [] };
    if ('taken' in outcome && changes.length) await this.#tell(manuscript, id, by, verdict, changes, true);
    return outcome;
  }
}
