import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Fragment, Slice, type Node } from 'prosemirror-model';
import { ReplaceStep, type Step } from 'prosemirror-transform';
import { DataSource, type EntityManager } from 'typeorm';
import {
  changeIds,
  clockAllowance,
  mend,
  mended,
  rangesOf,
  soundInParts,
  toDate,
  weightOf,
  type ChangeId,
  type Loss,
  type Mended,
} from '@tea-pencil/core';
import type { LoggedIntent } from '@tea-pencil/wire';
import { ChangeRow, CheckpointRow, ManuscriptRow, PersonRow, StepRow } from '../database/entities.js';
import { violates } from '../database/violations.js';
import { breathing } from './breathing.js';
import { History } from './history.js';
import { keepSearchable } from '../database/searchable.js';
import { keepDraft } from '../database/kept-draft.js';
import { portions } from '../database/portions.js';
import { keepSummary, summaryOf, type KeptText } from '../database/kept-text.js';
import { eventsOf, keepEvents, type ChangeEvent } from './change-log.js';
import { OpenText, type Known } from './open-text.js';
import { readInParts, replayed } from './read-text.js';

/** A batch of steps as it is kept: all by one person or by the server, with one intent. */
export interface Batch {
  steps: readonly Step[];
  /** Null for what the server mends by itself. */
  author: string | null;
  intent: LoggedIntent;
  client: string;
  /** Changes that were not there before; and whether they came with a file, and were not made here. */
  fresh?: ReadonlyMap<ChangeId, Known>;
  arrived?: boolean;
  /** What else happened to changes with it. */
  events?: readonly ChangeEvent[];
}

/** The batch was made on something that does not hold any more: it must be made anew. */
export class Behind extends Error {}

/**
 * Steps, the changes that are new in them, and whose edit was the last, in one statement; nothing where somebody's rights
 * have changed since the policy was asked. The row of the manuscript is locked first, so whoever changes rights waits, or
 * is waited for, and the count is read as they have left it.
 */
const appending = `
  WITH turn AS (
    UPDATE manuscripts SET touched_at = now(), touched_by = $3 WHERE id = $1 AND rights = coalesce($7, rights)
    RETURNING id
  ), kept AS (
    INSERT INTO steps (manuscript_id, version, step, ranges, author, intent, client, ends)
    SELECT turn.id, version, step, ranges, author, intent, client, ends
    FROM turn, jsonb_to_recordset($2::jsonb)
      AS one (version int, step jsonb, ranges int[], author text, intent text, client text, ends bool)
  ), new AS (
    INSERT INTO changes (manuscript_id, change_id, author, date)
    SELECT turn.id, one.* FROM turn, unnest($4::text[], $5::text[], $6::text[]) AS one ON CONFLICT DO NOTHING
    RETURNING change_id
  ), begun AS (
    INSERT INTO change_events (manuscript_id, change_id, kind, by) SELECT $1, change_id, $8, $3 FROM new
  )
  SELECT id FROM turn`;

/** The steps of batches as rows, from a version on. */
function* rowsOf(version: number, batches: readonly Batch[]): Generator<string> {
  let at = version;
  for (const { steps, author, intent, client } of batches)
    for (const [i, step] of steps.entries()) {
      const ranges = rangesOf(step.getMap());
      yield JSON.stringify({ version: at++, step, ranges, author, intent, client, ends: i === steps.length - 1 });
    }
}

/** Whether a write failed because another process had written that version already. */
const isTaken = (problem: unknown) => violates(problem, 'steps_pkey');

/** The changes that stand in a text, block by block; each is weighed too, which costs nothing from then on. */
function* changesOf(doc: Node): Generator<undefined, Map<ChangeId, Known>> {
  const known = new Map<ChangeId, Known>();
  for (const block of doc.children) {
    weightOf(block);
    for (const [id, change] of changeIds(doc.copy(Fragment.from(block)))) known.set(id, change);
    yield;
  }
  return known;
}

/** The steps and checkpoints of all manuscripts in PostgreSQL. What it has returned from is committed. */
@Injectable()
export class StepLog {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly history: History,
  ) {}

  /** The newest text. One that is broken is mended, which is logged like any edit and said to the people. */
  async open(manuscriptId: string): Promise<OpenText | null> {
    const read = await this.#newest(manuscriptId);
    if (!read) return null;
    const latest = toDate(new Date(Date.now() + clockAllowance));
    const isSound = await breathing(soundInParts(read.doc, latest));
    const known = await breathing(changesOf(read.doc));
    if (isSound && !read.mends.length) return new OpenText(read.doc, read.version, known);
    const { doc, mends: found } = mended(read.doc, latest);
    const mends = [...found, ...read.mends];
    try {
      await this.#keepMended(manuscriptId, { ...read, mended: doc, mends });
      return new OpenText(doc, read.version + 1);
    } catch (problem) {
      if (isTaken(problem)) return this.open(manuscriptId); // another process has mended it
      throw problem;
    }
  }

  /** The newest checkpoint that can be read, and the steps after it. */
  async #newest(manuscriptId: string): Promise<{ doc: Node; version: number; mends: Loss[] } | null> {
    const checkpoints = this.database.getRepository(CheckpointRow);
    for (let skip = 0; ; skip++) {
      const [row] = await checkpoints.find({ where: { manuscriptId }, order: { version: 'DESC' }, skip, take: 1 });
      if (!row) return null;
      const { version, doc: json } = row;
      const oldest = version === 0;
      const sound = await breathing(readInParts(json));
      if (!sound && !oldest) continue;
      const begun: Mended = sound ? { doc: sound, mends: [] } : mend(json, toDate(new Date()));
      const steps = await this.history.since(manuscriptId, version);
      const { doc, lost } = await breathing(replayed(begun.doc, steps));
      const mends = [...begun.mends];
      if (lost) mends.push({ what: 'an edit that cannot be read any more, left out', where: 'text', howMany: lost });
      return { doc, version: version + steps.length, mends };
    }
  }

  async #keepMended(
    manuscriptId: string,
    harmed: { doc: Node; version: number; mended: Node; mends: Loss[] },
  ): Promise<void> {
    const { doc, version, mended: whole, mends } = harmed;
    const step = new ReplaceStep(0, doc.content.size, new Slice(whole.content, 0, 0));
    const logged = {
      step: step.toJSON() as object,
      ranges: rangesOf(step.getMap()),
      author: null,
      intent: 'mend' as const,
      client: 'server',
    };
    await this.database.transaction(async (manager) => {
      await manager.insert(StepRow, { manuscriptId, version, ...logged });
      await keepSummary(manager, manuscriptId, version + 1, summaryOf(whole));
      await manager.insert(CheckpointRow, { manuscriptId, version: version + 1, doc: whole.toJSON() as object });
      const people = new Set((await manager.find(PersonRow, { select: { id: true } })).map(({ id }) => id));
      const found = changeIds(whole);
      const known = await this.knownChanges(manuscriptId, [...found.keys()]);
      for (const [changeId, { author, date }] of found) {
        const { author: by, date: at } = known.get(changeId) ?? {};
        if ((by === author && at === date) || !people.has(author)) continue;
        await manager.upsert(ChangeRow, { manuscriptId, changeId, author, date }, ['manuscriptId', 'changeId']);
      }
      const events = await breathing(eventsOf(doc, whole, { author: null, intent: 'mend' }, found));
      await keepEvents(manager, manuscriptId, { by: null, version: version + 1 }, events);
      const { mends: earlier } = await manager.findOneByOrFail(ManuscriptRow, { id: manuscriptId });
      await manager.update(ManuscriptRow, manuscriptId, { mends: [...earlier, ...mends] });
    });
  }

  /** Who made changes that have been seen in a manuscript, pending or decided, and when. */
  async knownChanges(manuscriptId: string, ids: readonly ChangeId[]): Promise<Map<ChangeId, Known>> {
    if (!ids.length) return new Map();
    const rows = await this.database.query<({ id: ChangeId } & Known)[]>(
      'SELECT change_id AS id, author, date FROM changes WHERE manuscript_id = $1 AND change_id = ANY($2)',
      [manuscriptId, ids],
    );
    return new Map(rows.map(({ id, author, date }) => [id, { author, date }]));
  }

  /**
   * Keeps batches, one after the other, as the versions from `version` on. The primary key decides a race between
   * processes.
   * @param also further writes that belong to the same moment
   * @param rights the count of rights by which the policy was asked; none for what the server does by itself
   * @throws Behind when another process was first, or rights have changed
   */
  async append(
    manuscriptId: string,
    version: number,
    batches: readonly Batch[],
    also?: (manager: EntityManager) => Promise<void>,
    rights?: number,
  ): Promise<void> {
    const by = batches.findLast(({ author }) => author !== null)?.author;
    const fresh = batches.flatMap((batch) => [...(batch.fresh ?? [])]);
    const known = [fresh.map(([id]) => id), fresh.map(([, { author }]) => author), fresh.map(([, { date }]) => date)];
    const rows = portions(rowsOf(version, batches));
    const begins = batches.some(({ arrived }) => arrived) ? 'arrived' : 'proposed';
    const keep = async (manager: EntityManager, some: readonly string[], changes: readonly string[][]) => {
      const values = [manuscriptId, `[${some.join()}]`, by, ...changes, rights ?? null, begins];
      if (!(await manager.query<unknown[]>(appending, values)).length) throw new Behind();
    };
    const first = rows.next().value ?? [];
    const second = rows.next().value;
    try {
      // What is one statement is one transaction, and one way to the database and back.
      const events = batches.some((batch) => batch.events?.length);
      if (!also && !second && !events) return void (await keep(this.database.manager, first, known));
      await this.database.transaction(async (manager) => {
        await keep(manager, first, known);
        for (let some = second; some; some = rows.next().value) await keep(manager, some, [[], [], []]);
        let at = version;
        for (const { steps, author, events: its = [] } of batches) {
          at += steps.length;
          await keepEvents(manager, manuscriptId, { by: author, version: at }, its);
        }
        await also?.(manager);
      });
    } catch (problem) {
      if (isTaken(problem)) throw new Behind();
      throw problem;
    }
  }

  /** Keeps the first text of a manuscript. */
  async begin(manager: EntityManager, manuscriptId: string, text: KeptText, by: string): Promise<void> {
    const { json, changes, summary, searchable } = text;
    await keepDraft(manager, { manuscriptId, version: 0, reason: 'came' });
    await manager.query('INSERT INTO checkpoints (manuscript_id, version, doc) VALUES ($1, 0, $2)', [
      manuscriptId,
      json,
    ]);
    const rows = changes.map(([id, author, date]) => JSON.stringify({ id, author, date }));
    for (const some of portions(rows))
      await manager.query(
        `WITH new AS (
           INSERT INTO changes (manuscript_id, change_id, author, date)
           SELECT $1, id, author, date FROM jsonb_to_recordset($2::jsonb) AS one (id text, author text, date text)
           ON CONFLICT DO NOTHING RETURNING change_id
         )
         INSERT INTO change_events (manuscript_id, change_id, kind, by) SELECT $1, change_id, 'arrived', $3 FROM new`,
        [manuscriptId, `[${some.join()}]`, by],
      );
    await keepSummary(manager, manuscriptId, 0, summary);
    await keepSearchable(manager, manuscriptId, searchable);
  }
}
