import { ConflictException, ForbiddenException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, type EntityManager } from 'typeorm';
import { kinds } from '@tea-pencil/core';
import type { Decider, FairCopy, FairCopyAsked, FairCopyFile } from '@tea-pencil/wire';
import { DecisionRow } from '../database/entities.js';
import { FairCopyRow } from '../database/fair-copy-entity.js';
import { keepDraft } from '../database/kept-draft.js';
import { Decisions } from '../decisions/decisions.service.js';
import { titled } from '../exchange/exchange.service.js';
import { Broadcasting } from '../live/broadcasting.js';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { may, type Member } from '../policy/may.js';
import { Limits } from '../running/limits.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { FairCopyToMake, MadeFairCopy } from './making-task.js';

/** How often one begins anew because somebody has written meanwhile. */
const patience = 5;

/** So many fair copies of one manuscript are kept, each with two files. */
const mostKept = 200;
const full = `No more than ${mostKept} fair copies of one manuscript are kept. A copy of it has room for its own: on your desk, under “⋯”, choose “Copy”.`;

const unseen =
  'Other changes are pending now than when you chose what becomes of them. Nothing was changed; please look at them again.';
const writing =
  'Somebody is writing in this text just now. A fair copy is of a text that rests: nothing was changed; try again when they have stopped.';
const notThere = 'There is no such fair copy of this manuscript.';

type Made = Extract<MadeFairCopy, { version: number }>;

const told = ({ id, version, madeBy, at, facts, takenBackBy, takenBackAt }: FairCopyRow): FairCopy => ({
  ...facts,
  id,
  version,
  madeBy,
  at: at.toISOString(),
  takenBack: takenBackBy !== null && takenBackAt ? { by: takenBackBy, at: takenBackAt.toISOString() } : null,
});

/** Fair copies: a text brought to its end in one act, with the files that were made of it. */
@Injectable()
export class FairCopyService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly manuscripts: ManuscriptsService,
    private readonly decisions: Decisions,
    private readonly workers: Workers,
    private readonly live: Broadcasting,
    private readonly limits: Limits,
  ) {}

  async list(manuscriptId: string): Promise<FairCopy[]> {
    const rows = await this.database
      .getRepository(FairCopyRow)
      .find({ where: { manuscriptId }, order: { at: 'DESC' }, take: mostKept });
    return rows.map(told);
  }

  /**
   * Decides what is pending as it is asked, and keeps the files, their hashes and who decided what, all in one moment: the
   * files are made first, of the very version that is decided on, and where somebody has written meanwhile made anew.
   * @throws ConflictException with the reason; nothing is kept then
   */
  async make(by: Member, { chosen, format, nameless, inert }: FairCopyAsked, stop: AbortSignal): Promise<FairCopy> {
    const { manuscriptId: manuscript, personId } = by;
    const task = async (): Promise<FairCopyToMake> => {
      const wanted = { origin: format, pictures: kinds[format].name !== 'md' } as const;
      const whole = await this.manuscripts.whole(manuscript, personId, wanted);
      if (!whole) throw new NotFoundException('This manuscript is not there any more.');
      const about = titled(manuscript, await this.manuscripts.about(manuscript), whole.origin?.format);
      return { whole, about: { ...about, nameless, inert }, chosen, format };
    };
    if ((await this.database.getRepository(FairCopyRow).countBy({ manuscriptId: manuscript })) >= mostKept)
      throw new ConflictException(full);
    for (let attempt = 0; attempt < patience; attempt++) {
      const made = await saysBusy(this.workers.run<MadeFairCopy>('makeFairCopy', task, { of: personId, stop }));
      if ('unseen' in made) throw new ConflictException(unseen);
      if ('reason' in made) throw new ConflictException(`The fair copy was not made: ${made.reason}.`);
      const id = nanoid(12);
      const outcome = await this.decisions.decideFor(
        by,
        [
          { which: made.fates.accept, verdict: 'accept' },
          { which: made.fates.reject, verdict: 'reject' },
        ],
        {
          fairCopy: id,
          version: made.version,
          also: (manager, version) => this.#keep(manager, { id, version, by, format, nameless }, made),
        },
      );
      if ('behind' in outcome) continue;
      if ('refused' in outcome) throw new ConflictException(outcome.refused);
      if (!('taken' in outcome)) throw new ConflictException(outcome.later);
      this.live.changed(manuscript, 'drafts');
      return told(await this.database.getRepository(FairCopyRow).findOneByOrFail({ id }));
    }
    throw new ConflictException(writing);
  }

  async #keep(
    manager: EntityManager,
    {
      id,
      version,
      by,
      format,
      nameless,
    }: Pick<FairCopyAsked, 'format' | 'nameless'> & {
      id: string;
      version: number;
      by: Member;
    },
    { facts, clean, marked }: Made,
  ): Promise<void> {
    const { manuscriptId, personId: madeBy } = by;
    await keepDraft(manager, { manuscriptId, version, reason: 'fair copy', name: 'Fair copy', by: madeBy });
    await manager.insert(FairCopyRow, {
      id,
      manuscriptId,
      version,
      madeBy,
      facts: { ...facts, format, nameless, deciders: await this.#deciders(manager, manuscriptId) },
      clean: Buffer.from(clean),
      marked: Buffer.from(marked),
    });
    this.limits.bring(madeBy, clean.length + marked.length);
  }

  /** Who has decided how many of the changes of a manuscript, as it stands. */
  async #deciders(manager: EntityManager, manuscript: string): Promise<Decider[]> {
    const rows = await manager.query<(Omit<Decider, 'first' | 'last'> & { first: Date; last: Date })[]>(
      `SELECT decided_by AS person, count(*) FILTER (WHERE verdict = 'accept')::int AS accepted,
         count(*) FILTER (WHERE verdict = 'reject')::int AS rejected, min(decided_at) AS first, max(decided_at) AS last
       FROM changes WHERE manuscript_id = $1 AND verdict IS NOT NULL GROUP BY decided_by ORDER BY min(decided_at), 1`,
      [manuscript],
    );
    return rows.map((row) => ({ ...row, first: row.first.toISOString(), last: row.last.toISOString() }));
  }

  /** One of its files, as it was made. */
  async file(manuscriptId: string, id: string, which: FairCopyFile): Promise<{ copy: FairCopy; bytes: Buffer }> {
    const rows = this.database.getRepository(FairCopyRow);
    const row = await rows.findOneBy({ manuscriptId, id });
    const held = row && (await rows.findOne({ where: { id }, select: { id: true, [which]: true } }));
    if (!row || !held) throw new NotFoundException(notThere);
    return { copy: told(row), bytes: held[which] };
  }

  /** Takes back what was decided for it, whatever has been written since. Its files and what is known of them stay. */
  async takeBack(by: Member, id: string): Promise<void> {
    const { manuscriptId, personId } = by;
    const row = await this.database.getRepository(FairCopyRow).findOneBy({ manuscriptId, id });
    if (!row) throw new NotFoundException(notThere);
    if (row.takenBackAt) throw new ConflictException('This fair copy has been taken back already.');
    const allowed = may(row.madeBy === personId ? 'take back own decisions' : 'take back decisions', by);
    if (allowed !== true) throw new ForbiddenException(allowed);
    const decisions = await this.database
      .getRepository(DecisionRow)
      .find({ where: { manuscriptId, fairCopy: id }, order: { toVersion: 'DESC' } });
    for (const { id: decision, takenBackAt } of decisions) {
      if (takenBackAt) continue;
      const outcome = await this.decisions.takeBack(by, decision, { client: 'server' });
      if ('refused' in outcome) throw new ConflictException(outcome.refused);
      if (!('taken' in outcome)) throw new ConflictException(writing);
    }
    await this.database.getRepository(FairCopyRow).update(id, { takenBackBy: personId, takenBackAt: new Date() });
    this.live.changed(manuscriptId, 'drafts');
  }
}
