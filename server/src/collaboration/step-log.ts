import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import { DataSource, LessThanOrEqual, type EntityManager } from 'typeorm';
import { schema, type ChangeId } from '@tea-pencil/core';
import {
  ChangeRow,
  CheckpointRow,
  DecisionRow,
  ManuscriptRow,
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

  /** The newest text: the newest checkpoint and the steps after it. */
  async open(manuscriptId: string): Promise<Opened | null> {
    const checkpoint = await this.database
      .getRepository(CheckpointRow)
      .findOne({ where: { manuscriptId }, order: { version: 'DESC' } });
    if (!checkpoint) return null;
    let doc = Node.fromJSON(schema, checkpoint.doc);
    let { version } = checkpoint;
    for (const { step } of await this.since(manuscriptId, version)) {
      doc = Step.fromJSON(schema, step).apply(doc).doc!;
      version++;
    }
    const rows = await this.database.getRepository(ChangeRow).findBy({ manuscriptId });
    return { doc, version, known: new Map(rows.map(({ changeId, author, date }) => [changeId, { author, date }])) };
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
      if ((problem as { code?: string }).code === '23505') throw new Behind();
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
