import { Injectable, Logger } from '@nestjs/common';
import { EventEmitter } from 'node:events';
import { Step, Transform } from 'prosemirror-transform';
import { changeIds, checkBatch, decide, schema, type ChangeId, type Intent, type Verdict } from '@tea-pencil/core';
import { In } from 'typeorm';
import { nanoid } from 'nanoid';
import { ChangeRow, DecisionRow, mayAtLeast, type LoggedIntent, type Role } from '../database/entities.js';
import { Behind, StepLog, type Batch, type Opened } from './step-log.js';
import { takeBack } from './take-back.js';

export interface Author {
  id: string;
  role: Role;
}

export interface Submission {
  version: number;
  steps: object[];
  intent: Intent;
  client: string;
}

export type Answer = { taken: true; version: number; decision?: string } | { behind: true } | { refused: string };

/** What everyone who has a manuscript open is told of a batch. */
export interface Broadcast {
  manuscript: string;
  /** The version the first step was applied to. */
  version: number;
  steps: object[];
  client: string;
  author: string;
  intent: LoggedIntent;
}

const leastRole: Record<Intent, Role> = { pencil: 'proposer', ink: 'decider', anchor: 'remarker' };
const refusals: Record<Intent, string> = {
  pencil: 'You may not change this manuscript.',
  ink: 'You may not use ink in this manuscript; take the pencil.',
  anchor: 'You may not comment in this manuscript.',
};

/**
 * Decides the order of steps of every open manuscript and holds its text. A batch is acknowledged when it is committed;
 * nothing is kept here that another process could not rebuild from the log.
 */
@Injectable()
export class Authority {
  readonly events = new EventEmitter<{ batch: [Broadcast] }>();
  readonly #open = new Map<string, Promise<Opened | null>>();
  readonly #queues = new Map<string, Promise<unknown>>();
  readonly #logger = new Logger('Authority');

  constructor(private readonly log: StepLog) {}

  /** The text as it stands; null when there is none. */
  async text(manuscript: string): Promise<Opened | null> {
    let opened = this.#open.get(manuscript);
    if (!opened) {
      opened = this.log.open(manuscript);
      this.#open.set(manuscript, opened);
      opened.catch(() => this.#open.delete(manuscript));
    }
    const found = await opened;
    if (!found) this.#open.delete(manuscript);
    return found;
  }

  since = (manuscript: string, version: number) => this.log.since(manuscript, version);

  /** One after the other for each manuscript, different manuscripts side by side. */
  #inTurn<T>(manuscript: string, work: () => Promise<T>): Promise<T> {
    const turn = (this.#queues.get(manuscript) ?? Promise.resolve()).catch(() => undefined).then(work);
    this.#queues.set(manuscript, turn);
    void turn
      .catch(() => undefined)
      .then(() => this.#queues.get(manuscript) === turn && this.#queues.delete(manuscript));
    return turn;
  }

  /** Takes in a batch of steps, all of one intent, if the rules allow it. */
  submit(manuscript: string, author: Author, submission: Submission): Promise<Answer> {
    return this.#inTurn(manuscript, async () => {
      const { intent, client } = submission;
      if (!mayAtLeast(author.role, leastRole[intent])) return { refused: refusals[intent] };
      const text = await this.text(manuscript);
      if (!text) return { refused: 'This manuscript is not there any more.' };
      if (submission.version !== text.version) return { behind: true };
      let tr: Transform;
      try {
        tr = new Transform(text.doc);
        for (const json of submission.steps) tr.step(Step.fromJSON(schema, json));
      } catch {
        return { refused: 'This change does not fit the text.' };
      }
      const sender = { author: author.id, now: new Date().toISOString(), known: (id: ChangeId) => text.known.get(id) };
      const wrong = checkBatch(text.doc, tr.doc, tr.steps, tr.mapping, intent, sender);
      if (wrong) return { refused: wrong };
      return this.#commit(manuscript, text, tr, { steps: tr.steps, author: author.id, intent, client });
    });
  }

  /** Accepts or rejects changes. One who may propose may withdraw changes of their own. */
  decide(manuscript: string, author: Author, which: ChangeId[], verdict: Verdict, client: string): Promise<Answer> {
    const again = (): Promise<Answer> =>
      this.#inTurn(manuscript, async () => {
        const text = await this.text(manuscript);
        if (!text) return { refused: 'This manuscript is not there any more.' };
        const own = verdict === 'reject' && which.every((id) => text.known.get(id)?.author === author.id);
        if (!mayAtLeast(author.role, own ? 'proposer' : 'decider')) {
          return { refused: 'You may not decide changes in this manuscript; you may withdraw your own.' };
        }
        const tr = decide(new Transform(text.doc), which, verdict);
        if (!tr.steps.length) return { taken: true, version: text.version };
        const decision = nanoid(12);
        const batch: Batch = { steps: tr.steps, author: author.id, intent: 'decision', client };
        const answer = await this.#commit(manuscript, text, tr, batch, async (manager) => {
          const toVersion = text.version + tr.steps.length;
          const row = { id: decision, manuscriptId: manuscript, verdict, changes: which, decidedBy: author.id };
          await manager.insert(DecisionRow, { ...row, fromVersion: text.version, toVersion });
          const decided = { verdict, decidedBy: author.id, decidedAt: new Date() };
          await manager.update(ChangeRow, { manuscriptId: manuscript, changeId: In(which) }, decided);
        });
        return 'taken' in answer ? { ...answer, decision } : answer;
      });
    // A decision is an intention, not a text: when another process was first, it is made again on the new text.
    return again().then((answer) => ('behind' in answer ? again() : answer));
  }

  /** Takes a decision back, whatever has been written since: its changes are pending again, where their words were. */
  takeBack(manuscript: string, author: Author, id: string, client: string): Promise<Answer> {
    return this.#inTurn(manuscript, async () => {
      const text = await this.text(manuscript);
      const decision = await this.log.decision(manuscript, id);
      if (!text || !decision) return { refused: 'There is no such decision in this manuscript.' };
      if (decision.takenBackAt) return { refused: 'This decision has been taken back already.' };
      if (!mayAtLeast(author.role, 'decider') && decision.decidedBy !== author.id) {
        return { refused: 'You may not take back what others have decided.' };
      }
      const { fromVersion, toVersion } = decision;
      const rows = await this.log.since(manuscript, fromVersion);
      const steps = rows.map(({ step }) => Step.fromJSON(schema, step));
      const n = toVersion - fromVersion;
      const before = await this.log.textAt(manuscript, fromVersion);
      const tr = takeBack(before, steps.slice(0, n), steps.slice(n), text.doc);
      try {
        tr.doc.check();
      } catch {
        return { refused: 'This decision cannot be taken back any more: the text around it has changed too far.' };
      }
      if (!tr.steps.length) return { refused: 'This decision cannot be taken back any more: its words have gone.' };
      const batch: Batch = { steps: tr.steps, author: author.id, intent: 'decision', client };
      return this.#commit(manuscript, text, tr, batch, async (manager) => {
        await manager.update(DecisionRow, id, { takenBackBy: author.id, takenBackAt: new Date() });
        const pending = { verdict: null, decidedBy: null, decidedAt: null };
        await manager.update(ChangeRow, { manuscriptId: manuscript, changeId: In(decision.changes) }, pending);
      });
    });
  }

  async #commit(
    manuscript: string,
    text: Opened,
    tr: Transform,
    batch: Batch,
    also: Parameters<StepLog['append']>[3] = async () => undefined,
  ): Promise<Answer> {
    const from = text.version;
    const fresh: Opened['known'] = new Map();
    if (batch.intent === 'pencil') {
      for (const [id, change] of changeIds(tr.doc)) if (!text.known.has(id)) fresh.set(id, change);
    }
    try {
      await this.log.append(manuscript, from, batch, async (manager) => {
        await this.log.addChanges(manager, manuscript, fresh);
        await also(manager);
      });
    } catch (problem) {
      this.#open.delete(manuscript); // the text is read anew from what is committed
      if (problem instanceof Behind) return { behind: true };
      this.#logger.error(`A batch could not be kept: ${String(problem)}`);
      return { refused: 'The change could not be kept just now; it was not taken in. Please try again.' };
    }
    text.doc = tr.doc;
    text.version += batch.steps.length;
    for (const [id, change] of fresh) text.known.set(id, change);
    const { author, intent, client } = batch;
    const steps = batch.steps.map((step) => step.toJSON() as object);
    this.events.emit('batch', { manuscript, version: from, steps, client, author, intent });
    const { doc, version } = text;
    this.log
      .checkpoint(manuscript, from, version, doc)
      .catch((e: unknown) => this.#logger.warn(`No checkpoint: ${String(e)}`));
    return { taken: true, version };
  }
}
