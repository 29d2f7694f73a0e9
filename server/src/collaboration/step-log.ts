import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Node, Slice } from 'prosemirror-model';
import { ReplaceStep, Step } from 'prosemirror-transform';
import { DataSource, LessThanOrEqual, type EntityManager } from 'typeorm';
import {
  changeIds,
  clockAllowance,
  mend,
  schema,
  toDate,
  type ChangeId,
  type Loss,
  type Mended,
} from '@tea-pencil/core';
import {
  ChangeRow,
  CheckpointRow,
  DecisionRow,
  ManuscriptRow,
  PersonRow,
  StepRow,
  type LoggedIntent,
} from '../database/entities.js';

/** A batch of steps as it is kept: all by one person, with one intent. */
export interface Batch {
  steps: readonly Step[];
  author: string;
  intent: LoggedIntent;
  client: string;
}

export interface Opened {
  doc: Node;
  version: number;
  known: Map<ChangeId, { author: string; date: string }>;
}

/** Someone else has written the next version already: the batch must be made anew on top of it. */
export class Behind extends Error {}

const checkpointEvery = 200;

/** Whether a write failed because another process had written that version already. */
const isTaken = (problem: unknown) => (problem as { code?: string }).code === '23505';

/** What can be read; null what cannot. */
function read<T>(parse: () => T | null): T | null {
  try {
    return parse();
  } catch {
    return null;
  }
}

/** The steps and checkpoints of all manuscripts in PostgreSQL. What it has returned from is committed. */
@Injectable()
export class StepLog {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** The text as it was at a version: the newest checkpoint up to it, and the steps since. */
  async textAt(manuscriptId: string, version: number): Promise<Node> {
    const checkpoint = await this.database
      .getRepository(CheckpointRow)
      .findOneOrFail({ where: { manuscriptId, version: LessThanOrEqual(version) }, order: { version: 'DESC' } });
    const rows = await this.since(manuscriptId, checkpoint.version);
    return rows
      .slice(0, version - checkpoint.version)
      .reduce((doc, { step }) => Step.fromJSON(schema, step).apply(doc).doc!, Node.fromJSON(schema, checkpoint.doc));
  }

  /** The newest text. One that is broken is mended, which is logged like any edit and said to the people. */
  async open(manuscriptId: string): Promise<Opened | null> {
    const read = await this.#newest(manuscriptId);
    if (!read) return null;
    const rows = await this.database.getRepository(ChangeRow).findBy({ manuscriptId });
    const known: Opened['known'] = new Map(rows.map(({ changeId, author, date }) => [changeId, { author, date }]));
    const latest = toDate(new Date(Date.now() + clockAllowance));
    const { doc, mends } = mend(read.doc.toJSON(), latest);
    mends.push(...read.mends);
    if (!mends.length) return { doc: read.doc, version: read.version, known };
    try {
      await this.#keepMended(manuscriptId, { ...read, mended: doc, mends, known });
      return { doc, version: read.version + 1, known };
    } catch (problem) {
      if (isTaken(problem)) return this.open(manuscriptId); // another process has mended it
      throw problem;
    }
  }

  /** The newest checkpoint that can be read, and the steps after it. */
  async #newest(manuscriptId: string): Promise<{ doc: Node; version: number; mends: Loss[] } | null> {
    const versions = await this.database
      .getRepository(CheckpointRow)
      .find({ select: { version: true }, where: { manuscriptId }, order: { version: 'DESC' } });
    for (const { version } of versions) {
      const { doc: json } = await this.database.getRepository(CheckpointRow).findOneByOrFail({ manuscriptId, version });
      const oldest = version === versions.at(-1)!.version;
      const sound = read(() => Node.fromJSON(schema, json));
      if (!sound && !oldest) continue;
      const begun: Mended = sound ? { doc: sound, mends: [] } : mend(json, toDate(new Date()));
      let { doc } = begun;
      let lost = 0;
      const steps = await this.since(manuscriptId, version);
      for (const { step } of steps) {
        const next = read(() => Step.fromJSON(schema, step).apply(doc).doc);
        if (next) doc = next;
        else lost++;
      }
      const mends = [...begun.mends];
      if (lost) mends.push({ what: 'an edit that cannot be read any more, left out', where: 'text', howMany: lost });
      return { doc, version: version + steps.length, mends };
    }
    return null;
  }

  async #keepMended(
    manuscriptId: string,
    found: { doc: Node; version: number; mended: Node; mends: Loss[]; known: Opened['known'] },
  ): Promise<void> {
    const { doc, version, mended, mends, known } = found;
    const step = new ReplaceStep(0, doc.content.size, new Slice(mended.content, 0, 0));
    const logged = { step: step.toJSON() as object, author: null, intent: 'mend' as const, client: 'server' };
    await this.database.transaction(async (manager) => {
      await manager.insert(StepRow, { manuscriptId, version, ...logged });
      await manager.insert(CheckpointRow, { manuscriptId, version: version + 1, doc: mended.toJSON() as object });
      const people = new Set((await manager.find(PersonRow, { select: { id: true } })).map(({ id }) => id));
      for (const [changeId, { author, date }] of changeIds(mended)) {
        const { author: by, date: at } = known.get(changeId) ?? {};
        if ((by === author && at === date) || !people.has(author)) continue;
        known.set(changeId, { author, date });
        await manager.upsert(ChangeRow, { manuscriptId, changeId, author, date }, ['manuscriptId', 'changeId']);
      }
      const { mends: earlier } = await manager.findOneByOrFail(ManuscriptRow, { id: manuscriptId });
      await manager.update(ManuscriptRow, manuscriptId, { mends: [...earlier, ...mends] });
    });
  }

  decision = (manuscriptId: string, id: string): Promise<DecisionRow | null> =>
    this.database.getRepository(DecisionRow).findOneBy({ manuscriptId, id });

  /** The steps that led from a version to the newest. */
  since(manuscriptId: string, version: number): Promise<StepRow[]> {
    return this.database
      .getRepository(StepRow)
      .createQueryBuilder('step')
      .where('step.manuscript_id = :manuscriptId AND step.version >= :version', { manuscriptId, version })
      .orderBy('step.version')
      .getMany();
  }

  /**
   * Keeps a batch as the versions from `version` on. The primary key decides a race between processes.
   * @param also further writes that belong to the same moment
   * @throws Behind when another process was first
   */
  async append(
    manuscriptId: string,
    version: number,
    batch: Batch,
    also: (manager: EntityManager) => Promise<void>,
  ): Promise<void> {
    try {
      await this.database.transaction(async (manager) => {
        const { author, intent, client } = batch;
        await manager.insert(
          StepRow,
          batch.steps.map((step, i) => ({
            manuscriptId,
            version: version + i,
            step: step.toJSON() as object,
            author,
            intent,
            client,
          })),
        );
        await manager.update(ManuscriptRow, manuscriptId, { touchedAt: new Date(), touchedBy: author });
        await also(manager);
      });
    } catch (problem) {
      if (isTaken(problem)) throw new Behind();
      throw problem;
    }
  }

  async addChanges(manager: EntityManager, manuscriptId: string, changes: Opened['known']): Promise<void> {
    if (!changes.size) return;
    await manager
      .createQueryBuilder()
      .insert()
      .into(ChangeRow)
      .values([...changes].map(([changeId, { author, date }]) => ({ manuscriptId, changeId, author, date })))
      .orIgnore()
      .execute();
  }

  async begin(manager: EntityManager, manuscriptId: string, doc: Node, changes: Opened['known']): Promise<void> {
    await manager.insert(CheckpointRow, { manuscriptId, version: 0, doc: doc.toJSON() as object });
    await this.addChanges(manager, manuscriptId, changes);
  }

  /** Keeps the whole document every so many versions; the log stays as it is. */
  async checkpoint(manuscriptId: string, from: number, version: number, doc: Node): Promise<void> {
    if (Math.floor(from / checkpointEvery) === Math.floor(version / checkpointEvery)) return;
    await this.database
      .createQueryBuilder()
      .insert()
      .into(CheckpointRow)
      .values({ manuscriptId, version, doc: doc.toJSON() as object })
      .orIgnore()
      .execute();
  }
}
