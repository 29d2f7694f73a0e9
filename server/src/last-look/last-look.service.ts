import { ConflictException, ForbiddenException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource } from 'typeorm';
import type { FindingKind } from '@tea-pencil/core';
import type { KeptWord, LastLookState, LeftFinding, StyleInUse, WordScope } from '@tea-pencil/wire';
import { KeptWordRow, LeftFindingRow, LookRow } from '../database/last-look-entities.js';
import { Authority } from '../live/authority.js';
import { Broadcasting } from '../live/broadcasting.js';
import { may, type Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { saysBusy, Workers } from '../work/workers.js';

export interface FindingToLeave {
  key: string;
  all: boolean;
  kind: FindingKind;
  words: string;
}
export interface WordToKeep {
  scope: WordScope;
  language: string;
  word: string;
}

/** So many of a kind there can be of one manuscript, or of one house or person. */
const mostLeft = 5000;
const mostWords = 5000;

const notThere = 'This is not there any more.';

/** What people have made of what the last look finds. */
@Injectable()
export class LastLookService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly live: Broadcasting,
    private readonly memberships: Memberships,
    private readonly workers: Workers,
  ) {}

  async state({ manuscriptId, personId }: Member): Promise<LastLookState> {
    const left = await this.database
      .getRepository(LeftFindingRow)
      .find({ where: { manuscriptId }, order: { at: 'DESC', id: 'ASC' } });
    const words = await this.database.getRepository(KeptWordRow).find({
      where: [{ scope: 'house' }, { manuscriptId }, { scope: 'person', by: personId }],
      order: { word: 'ASC', id: 'ASC' },
    });
    const last = await this.database.getRepository(LookRow).findOneBy({ manuscriptId });
    return {
      left: left.map(({ manuscriptId: _, at, ...one }): LeftFinding => ({ ...one, at: at.toISOString() })),
      words: words.map(({ manuscriptId: _, at, ...one }): KeptWord => ({ ...one, at: at.toISOString() })),
      style: await this.#style(manuscriptId),
      last: last && { by: last.by, at: last.at.toISOString(), version: last.version, prints: last.prints },
    };
  }

  async #style(manuscriptId: string): Promise<StyleInUse | null> {
    const [row] = await this.database.query<StyleInUse[]>(
      `SELECT style_id AS id, version, name, language, rules FROM house_style_versions
       WHERE (style_id, version) = (SELECT id, version FROM house_styles JOIN styled ON id = style_id
         WHERE manuscript_id = $1 AND gone_at IS NULL)`,
      [manuscriptId],
    );
    return row ?? null;
  }

  /** Leaves a finding as it is, or all such; one that is left already stays so. */
  async leave(member: Member, { key, all, kind, words }: FindingToLeave): Promise<void> {
    const { manuscriptId, personId: by } = member;
    await this.memberships.write(member, 'leave findings', async (manager) => {
      const rows = manager.getRepository(LeftFindingRow);
      if ((await rows.countBy({ manuscriptId })) >= mostLeft)
        throw new ConflictException(
          `No more than ${mostLeft} findings can be left. Leave all such, or put some right.`,
        );
      await rows
        .createQueryBuilder()
        .insert()
        .values({ id: nanoid(12), manuscriptId, key, all, kind, words, by })
        .orIgnore()
        .execute();
    });
    this.live.changed(manuscriptId, 'last look');
  }

  async takeUp(member: Member, id: string): Promise<void> {
    const { manuscriptId } = member;
    const { affected } = await this.memberships.write(member, 'leave findings', (manager) =>
      manager.delete(LeftFindingRow, { manuscriptId, id }),
    );
    if (!affected) throw new NotFoundException(notThere);
    this.live.changed(manuscriptId, 'last look');
  }

  /** Keeps a word: everyone for themselves; for a manuscript or the house who may write in the manuscript. */
  async keepWord(member: Member, { scope, language, word }: WordToKeep): Promise<void> {
    const { manuscriptId, personId: by, isGuest } = member;
    const mayWrite = may('write in pencil', member);
    if (scope !== 'person' && mayWrite !== true) throw new ForbiddenException(mayWrite);
    if (scope === 'house' && isGuest) throw new ForbiddenException('The words of the house are not a guest’s to keep.');
    const its = { scope, ...(scope === 'manuscript' && { manuscriptId }), ...(scope === 'person' && { by }) };
    const row = { id: nanoid(12), scope, language, word: word.normalize('NFC'), by };
    await this.memberships.write(member, scope === 'person' ? 'read' : 'write in pencil', async (manager) => {
      const rows = manager.getRepository(KeptWordRow);
      if ((await rows.countBy(its)) >= mostWords)
        throw new ConflictException(`No more than ${mostWords} words can be kept here.`);
      await rows
        .createQueryBuilder()
        .insert()
        .values({ ...row, manuscriptId: scope === 'manuscript' ? manuscriptId : null })
        .orIgnore()
        .execute();
    });
    this.live.changed(manuscriptId, 'last look');
  }

  /** Words of the house go with who kept them, or with who keeps the house. */
  async letWordGo(member: Member, id: string): Promise<void> {
    const { manuscriptId, personId } = member;
    const rows = this.database.getRepository(KeptWordRow);
    const word = await rows.findOneBy({ id });
    const seen =
      word?.scope === 'house' ||
      (word?.scope === 'manuscript' && word.manuscriptId === manuscriptId) ||
      (word?.scope === 'person' && word.by === personId);
    if (!word || !seen) throw new NotFoundException(notThere);
    const mayWrite = may('write in pencil', member);
    if (word.scope === 'manuscript' && mayWrite !== true) throw new ForbiddenException(mayWrite);
    if (word.scope === 'house' && word.by !== personId && !(await this.memberships.caller(personId))?.keepsHouse)
      throw new ForbiddenException('Only who kept this word, or a keeper of the house, can let it go.');
    await this.memberships.write(member, word.scope === 'manuscript' ? 'write in pencil' : 'read', (manager) =>
      manager.delete(KeptWordRow, { id }),
    );
    this.live.changed(manuscriptId, 'last look');
  }

  /** Says that the text has been looked over as it is now. */
  async taken(member: Member): Promise<void> {
    const { manuscriptId, personId: by } = member;
    const text = await this.authority.text(manuscriptId);
    if (!text) throw new NotFoundException('There is no text of this manuscript.');
    const { version } = text;
    // Reading a whole book takes a good part of what a keystroke of somebody else may wait.
    const task = { manuscript: manuscriptId, version };
    const prints = await saysBusy(this.workers.run<string[]>('printBlocks', () => Promise.resolve(task), { of: by }));
    const row = { manuscriptId, version, by, at: new Date(), prints };
    await this.memberships.write(member, 'leave findings', (manager) => manager.upsert(LookRow, row, ['manuscriptId']));
    this.live.changed(manuscriptId, 'last look');
  }
}
