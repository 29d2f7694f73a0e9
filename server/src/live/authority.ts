import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { EventEmitter } from 'node:events';
import { Step, Transform } from 'prosemirror-transform';
import { Passed, schema, type ChangeId } from '@tea-pencil/core';
import type { Missed, Outcome, Steps, Submission } from '@tea-pencil/wire';
import type { EntityManager } from 'typeorm';
import { may, type Permission } from '../policy/may.js';
import { Memberships, notThere } from '../policy/memberships.js';
import { breathing } from './breathing.js';
import { eventsOf } from './change-log.js';
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

/** Whose steps the server makes, and whether they may have them made as they stand to the manuscript at that moment. */
export interface Asker {
  personId: string;
  allows(member: Author): Permission | Promise<Permission>;
}

/** Whether what was asked of the policy holds for all of them still, as far as can be said without asking again. */
const isOfOneMoment = (jobs: readonly Job[]): boolean => {
  const now = new Date();
  return jobs.every(({ author: { rights, until } }) => rights === jobs[0]!.author.rights && (!until || until > now));
};

/** A batch with what it does to the changes of the text, where that is not known already. */
const withEvents = async ({ before, doc }: Transform, batch: Batch): Promise<Batch> =>
  batch.events
    ? batch
    : { ...batch, events: await breathing(eventsOf(before, doc, batch, batch.fresh ?? new Map<ChangeId, Known>())) };

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
        // Rights may have changed while they waited.
        if (attempt || !isOfOneMoment(left)) left = await this.#allowedNow(manuscript, left);
        if (left.length) left = await this.#takeInto(manuscript, text, left);
      }
      left.forEach(({ answer }) => answer({ behind: true }));
    } catch (problem) {
      this.#texts.forget(manuscript); // the text is read anew from what is committed
      this.#logger.warn({ manuscript, ...wentWrong('a batch waits', problem) });
      left.forEach(({ answer }) => answer({ later }));
    }
  }

  /** Those of the jobs that the policy allows to their authors as they stand to the manuscript now; the others are answered. */
  async #allowedNow(manuscript: string, jobs: readonly Job[]): Promise<readonly Job[]> {
    const members = await this.memberships.among(
      manuscript,
      jobs.map(({ author }) => author.personId),
    );
    return jobs.flatMap((job) => {
      const author = members.find(({ personId }) => personId === job.author.personId);
      const allowed = author ? mayWrite(author, job.submission) : notThere;
      if (author && allowed === true) return [{ ...job, author }];
      job.answer({ refused: String(allowed) });
      return [];
    });
  }

  /**
   * Keeps those of the batches that the rules allow, in one go.
   * @param jobs of authors whose rights were read at one moment
   * @returns those to be tried again, because another process has written meanwhile or rights have changed
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
      const batch = { steps: tr.steps, author: author.personId, intent, client, fresh: mine };
      taken.push({ job, tr, batch: await withEvents(tr, batch) });
      if (!even.steps.length) continue;
      trial.take(even, 'server');
      const mending = { steps: even.steps, author: null, intent: 'mend', client: 'server' } as const;
      taken.push({ tr: even, batch: await withEvents(even, mending) });
    }
    const batches = taken.map(({ batch }) => batch);
    const also = gone.length ? (manager: EntityManager) => keepStrays(manager, manuscript, gone) : undefined;
    if (!(await this.#keep(manuscript, text, { batches, also, rights: jobs[0]!.author.rights })))
      return taken.flatMap(({ job }) => job ?? []);
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

  /** Whether batches could be kept: not when another process was first, nor when rights have changed. */
  async #keep(
    manuscript: string,
    text: OpenText,
    { batches, also, rights }: { batches: readonly Batch[]; also?: OwnSteps['also']; rights: number },
  ): Promise<boolean> {
    if (!also && !batches.some(({ steps }) => steps.length)) return true;
    try {
      await this.log.append(manuscript, text.version, batches, also, rights);
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

  /**
   * Makes steps of the server's own for somebody and keeps them; they are made again when another process was first. The
   * policy is asked each time, within the manuscript's turn, and nothing is kept once rights have changed since.
   */
  write(
    manuscript: string,
    { personId, allows }: Asker,
    make: (text: OpenText, author: Author) => Promise<Outcome | OwnSteps>,
  ): Promise<Outcome> {
    return this.#turnsOf(manuscript).alone(async () => {
      try {
        for (let attempt = 0; attempt < 5; attempt++) {
          const text = await this.#newest(manuscript);
          if (!text) return { refused: noText };
          const author = await this.memberships.of(manuscript, personId);
          const allowed = author ? await allows(author) : notThere;
          if (!author || allowed !== true) return { refused: String(allowed) };
          const made = await make(text, author);
          if (!('tr' in made)) return made;
          const { tr, also, id } = made;
          const batch = await withEvents(tr, made.batch);
          const gone = straysAt(tr, text.version + tr.steps.length);
          const all = async (manager: EntityManager) => {
            await also(manager);
            await keepStrays(manager, manuscript, gone);
          };
          if (!(await this.#keep(manuscript, text, { batches: [batch], also: all, rights: author.rights }))) continue;
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
