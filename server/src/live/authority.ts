import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { EventEmitter } from 'node:events';
import { Step, Transform } from 'prosemirror-transform';
import { Passed, schema, type ChangeId } from '@tea-pencil/core';
import type { Missed, Outcome, Steps, Submission } from '@tea-pencil/wire';
import type { EntityManager } from 'typeorm';
import { may } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Checkpoints } from './checkpoints.js';
import { HeldTexts } from './held-texts.js';
import { History } from './history.js';
import type { Known, OpenText } from './open-text.js';
import { Behind, StepLog, type Batch } from './step-log.js';
import { keepStrays, straysAt, type StrayAt } from './strays.js';
import type { Author, OwnSteps } from './submissions.js';
import { askForKnown, isLarge, jobOf, tried, type Job } from './trying.js';
import { FairTurns, Turns } from '../work/turns.js';
import { wentWrong } from '../running/log.js';

const noText = 'This manuscript is not there any more.';
export const later =
  'The server cannot keep anything just now. Your words stay in this window and are sent again by themselves.';
/** The same, of what is no words. */
export const notNow = 'The server cannot keep anything just now. Nothing was done; please try again.';

const mayWrite = (author: Author, { intent }: Submission) =>
  may(intent === 'ink' ? 'write in ink' : 'write in pencil', author);

/** How many waiting batches are kept in one go. */
const mostTogether = 200;
/** How often a large batch is looked at beside the turn at most, and how few steps of others need not be waited for. */
const mostRounds = 8;
const littleMeanwhile = 8;

/**
 * Decides the order of steps of every open manuscript and holds its text. A batch is acknowledged when it is committed;
 * nothing is kept here that another process could not rebuild from the log.
 */
@Injectable()
export class Authority implements OnModuleDestroy {
  readonly events = new EventEmitter<{ steps: [Steps]; strays: [manuscript: string] }>();
  readonly #texts: HeldTexts;
  readonly #turns = new Map<string, Turns<Job>>();
  readonly #large = new FairTurns();
  readonly #logger = new Logger('Authority');

  constructor(
    private readonly log: StepLog,
    private readonly history: History,
    private readonly checkpoints: Checkpoints,
    private readonly memberships: Memberships,
  ) {
    this.#texts = new HeldTexts(
      (manuscript) => this.log.open(manuscript),
      (manuscript) => this.#turns.has(manuscript),
    );
  }

  onModuleDestroy(): void {
    this.#texts.stop();
  }

  #turnsOf(manuscript: string): Turns<Job> {
    let turns = this.#turns.get(manuscript);
    if (!turns) {
      const atRest = () => this.#turns.delete(manuscript);
      turns = new Turns<Job>((jobs) => this.#takeIn(manuscript, jobs), mostTogether, atRest);
      this.#turns.set(manuscript, turns);
    }
    return turns;
  }

  /** The text with all that other processes have written. */
  async #newest(manuscript: string): Promise<OpenText | null> {
    const text = await this.#texts.get(manuscript);
    if (text) this.#follow(text, await this.history.since(manuscript, text.version));
    return text;
  }

  /** Takes in steps that others have kept, batch by batch. */
  #follow(text: OpenText, rows: readonly { step: object; client: string }[]): void {
    for (let i = 0; i < rows.length;) {
      const { client } = rows[i]!;
      const tr = new Transform(text.doc);
      for (; i < rows.length && rows[i]!.client === client; i++) tr.step(Step.fromJSON(schema, rows[i]!.step));
      text.take(tr, client);
    }
  }

  /** The text as it stands; null when there is none. */
  text = (manuscript: string): Promise<OpenText | null> =>
    this.#turnsOf(manuscript).alone(() => this.#newest(manuscript));

  /** Takes note of steps that another process has kept. */
  heard({ manuscript, version, steps, clients }: Missed & { manuscript: string }): Promise<void> {
    if (!this.#texts.has(manuscript)) return Promise.resolve();
    return this.#turnsOf(manuscript).alone(async () => {
      const text = await this.#texts.get(manuscript);
      if (text?.version === version)
        this.#follow(
          text,
          steps.map((step, i) => ({ step, client: clients[i]! })),
        );
    });
  }

  /** Takes in a batch of steps, all of one intent, if the rules allow it. */
  submit(manuscript: string, author: Author, submission: Submission): Promise<Outcome> {
    const allowed = mayWrite(author, submission);
    if (allowed !== true) return Promise.resolve({ refused: allowed });
    return new Promise((answer) => {
      const job = jobOf(author, submission, answer);
      if (isLarge(submission)) void this.#large.of(author.personId, () => this.#prepare(manuscript, job));
      else this.#turnsOf(manuscript).add(job);
    });
  }

  /**
   * What is large is read and checked beside the turn, on the text as it stands, while others go on; then again what they
   * have touched meanwhile. Within the turn only the last of that is looked at.
   */
  async #prepare(manuscript: string, job: Job): Promise<void> {
    const passed = new Passed();
    let ready = job;
    let forget: (() => void) | undefined;
    try {
      for (let round = 0; round < mostRounds; round++) {
        const text = await this.text(manuscript);
        if (!text) return job.answer({ refused: noText });
        if (text.version - (ready.prepared?.version ?? -Infinity) <= littleMeanwhile) break;
        forget ??= text.remembering();
        await askForKnown(this.log, manuscript, text, [job]);
        const trial = text.trial();
        const right = await tried(trial, ready, (id) => text.known.get(id), passed);
        if (!('tr' in right)) return job.answer(right);
        ready = { ...job, prepared: { version: trial.version, steps: right.tr.steps, passed } };
      }
      // It may have been taken from them, or the manuscript sealed, while they waited.
      const author = await this.memberships.of(manuscript, job.author.personId);
      const allowed = author ? mayWrite(author, job.submission) : noText;
      if (allowed !== true) return job.answer({ refused: allowed });
      await new Promise<void>((done) => {
        const answer = (outcome: Outcome) => {
          job.answer(outcome);
          done();
        };
        this.#turnsOf(manuscript).add({ ...ready, answer });
      });
    } catch (problem) {
      this.#logger.warn({ manuscript, ...wentWrong('a large batch waits', problem) });
      job.answer({ later });
    } finally {
      forget?.();
    }
  }

  /** The text as this process holds it just now, if it does: it is asked for nothing. */
  atHand = (manuscript: string): Promise<OpenText | null> => this.#texts.atHand(manuscript);

  /** Takes in what has been waiting. */
  async #takeIn(manuscript: string, jobs: readonly Job[]): Promise<void> {
    let left = jobs;
    try {
      // When another process was first, all is tried again on top of what it has written.
      for (let attempt = 0; left.length && attempt < 5; attempt++) {
        let text = await this.#texts.get(manuscript);
        const missed = left.some(({ submission }) => text && submission.version > text.version);
        if (attempt || missed) text = await this.#newest(manuscript);
        if (!text) return left.forEach(({ answer }) => answer({ refused: noText }));
        left = await this.#takeInto(manuscript, text, left);
      }
      left.forEach(({ answer }) => answer({ behind: true }));
    } catch (problem) {
      this.#texts.forget(manuscript); // the text is read anew from what is committed
      this.#logger.warn({ manuscript, ...wentWrong('a batch waits', problem) });
      left.forEach(({ answer }) => answer({ later }));
    }
  }

  /**
   * Keeps those of the batches that the rules allow, in one go.
   * @returns those to be tried again, because another process has written meanwhile
   */
  async #takeInto(manuscript: string, text: OpenText, jobs: readonly Job[]): Promise<readonly Job[]> {
    await askForKnown(this.log, manuscript, text, jobs);
    const trial = text.trial();
    const fresh = new Map<ChangeId, Known>();
    const known = (id: ChangeId) => text.known.get(id) ?? fresh.get(id);
    const taken: { job?: Job; tr: Transform; batch: Batch }[] = [];
    const gone: StrayAt[] = [];
    for (const job of jobs) {
      const right = await tried(trial, job, known);
      if (!('tr' in right)) {
        job.answer(right);
        continue;
      }
      const { author, submission } = job;
      const { intent, client } = submission;
      const { tr, fresh: mine, even } = right;
      for (const [id, change] of mine) fresh.set(id, change);
      gone.push(...right.gone);
      trial.take(tr, client);
      taken.push({ job, tr, batch: { steps: tr.steps, author: author.personId, intent, client, fresh: mine } });
      if (!even.steps.length) continue;
      trial.take(even, 'server');
      taken.push({ tr: even, batch: { steps: even.steps, author: null, intent: 'mend', client: 'server' } });
    }
    const batches = taken.map(({ batch }) => batch);
    const also = gone.length ? (manager: EntityManager) => keepStrays(manager, manuscript, gone) : undefined;
    if (!(await this.#keep(manuscript, text, batches, also))) return taken.flatMap(({ job }) => job ?? []);
    for (const [id, change] of fresh) text.known.set(id, change);
    this.#took(manuscript, text, taken);
    if (gone.length) this.events.emit('strays', manuscript);
    let { version } = text;
    for (const { job, batch } of taken.reverse()) {
      job?.answer({ taken: true, version });
      version -= batch.steps.length;
    }
    return [];
  }

  /** Whether batches could be kept: not when another process was first. */
  async #keep(
    manuscript: string,
    text: OpenText,
    batches: readonly Batch[],
    also?: (manager: EntityManager) => Promise<void>,
  ): Promise<boolean> {
    if (!also && !batches.some(({ steps }) => steps.length)) return true;
    try {
      await this.log.append(manuscript, text.version, batches, also);
      return true;
    } catch (problem) {
      if (problem instanceof Behind) return false;
      throw problem;
    }
  }

  /** Makes what has been kept the text, and tells everyone. */
  #took(manuscript: string, text: OpenText, taken: readonly { tr: Transform; batch: Batch }[]): void {
    const from = text.version;
    for (const { tr, batch } of taken) if (tr.steps.length) text.take(tr, batch.client);
    if (text.version === from) return;
    const each = <T>(of: (batch: Batch) => T): T[] => taken.flatMap(({ batch }) => batch.steps.map(() => of(batch)));
    this.events.emit('steps', {
      manuscript,
      version: from,
      steps: taken.flatMap(({ batch }) => batch.steps.map((step) => step.toJSON() as object)),
      clients: each(({ client }) => client),
      authors: each(({ author }) => author),
      intents: each(({ intent }) => intent),
    });
    this.checkpoints.passed(manuscript, from, text.version);
  }

  /** Makes steps of the server's own and keeps them; they are made again when another process was first. */
  write(manuscript: string, make: (text: OpenText) => Promise<Outcome | OwnSteps>): Promise<Outcome> {
    return this.#turnsOf(manuscript).alone(async () => {
      try {
        for (let attempt = 0; attempt < 5; attempt++) {
          const text = await this.#newest(manuscript);
          if (!text) return { refused: noText };
          const made = await make(text);
          if (!('tr' in made)) return made;
          const { tr, batch, also, id } = made;
          const gone = straysAt(tr, text.version + tr.steps.length);
          const all = async (manager: EntityManager) => {
            await also(manager);
            await keepStrays(manager, manuscript, gone);
          };
          if (!(await this.#keep(manuscript, text, [batch], all))) continue;
          for (const [change, known] of batch.fresh ?? []) text.known.set(change, known);
          this.#took(manuscript, text, [{ tr, batch }]);
          if (gone.length) this.events.emit('strays', manuscript);
          return { taken: true, version: text.version, ...(id && { decision: id }) };
        }
        return { later };
      } catch (problem) {
        this.#texts.forget(manuscript);
        this.#logger.warn({ manuscript, ...wentWrong('steps of the server were not kept', problem) });
        return { later: notNow };
      }
    });
  }
}
