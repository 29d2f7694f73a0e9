import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { EventEmitter } from 'node:events';
import { Step, Transform } from 'prosemirror-transform';
import { changeIds, checkInParts, limits, limitWords, schema, squareTables, type ChangeId } from '@tea-pencil/core';
import type { Missed, Outcome, Steps, Submission } from '@tea-pencil/wire';
import type { EntityManager } from 'typeorm';
import { may } from '../policy/may.js';
import { breathing } from './breathing.js';
import { Checkpoints } from './checkpoints.js';
import { freshChanges, namedChanges } from './change-ids.js';
import { History } from './history.js';
import type { Known, OpenText } from './open-text.js';
import { Behind, StepLog, type Batch } from './step-log.js';
import { keepStrays, straysAt, type StrayAt } from './strays.js';
import type { Author, OwnSteps } from './submissions.js';
import { Turns } from './turns.js';
import { wentWrong } from '../running/log.js';

interface Job {
  author: Author;
  submission: Submission;
  answer(outcome: Outcome): void;
}

const noText = 'This manuscript is not there any more.';
export const later =
  'The server cannot keep anything just now. Your words stay in this window and are sent again by themselves.';

/** How many waiting batches are kept in one go. */
const mostTogether = 200;
/** How long a text that nobody asks for stays in memory, in milliseconds. */
const idleTime = 10 * 60_000;

/**
 * Decides the order of steps of every open manuscript and holds its text. A batch is acknowledged when it is committed;
 * nothing is kept here that another process could not rebuild from the log.
 */
@Injectable()
export class Authority implements OnModuleDestroy {
  readonly events = new EventEmitter<{ steps: [Steps]; strays: [manuscript: string] }>();
  readonly #open = new Map<string, Promise<OpenText | null>>();
  readonly #turns = new Map<string, Turns<Job>>();
  readonly #logger = new Logger('Authority');
  readonly #sweeper = setInterval(() => void this.#forgetIdle(), 60_000).unref();

  constructor(
    private readonly log: StepLog,
    private readonly history: History,
    private readonly checkpoints: Checkpoints,
  ) {}

  onModuleDestroy(): void {
    clearInterval(this.#sweeper);
  }

  async #forgetIdle(): Promise<void> {
    for (const [manuscript, opened] of this.#open) {
      const text = await opened.catch(() => null);
      const idle = this.#turns.get(manuscript)?.idle ?? true;
      if (!idle || (text && Date.now() - text.used < idleTime)) continue;
      this.#open.delete(manuscript);
      this.#turns.delete(manuscript);
    }
  }

  #turnsOf(manuscript: string): Turns<Job> {
    let turns = this.#turns.get(manuscript);
    if (!turns) {
      turns = new Turns<Job>((jobs) => this.#takeIn(manuscript, jobs), mostTogether);
      this.#turns.set(manuscript, turns);
    }
    return turns;
  }

  /** The text as this process holds it; it may be behind what another one has written. */
  async #held(manuscript: string): Promise<OpenText | null> {
    let opened = this.#open.get(manuscript);
    if (!opened) {
      opened = this.log.open(manuscript);
      this.#open.set(manuscript, opened);
      opened.catch(() => this.#open.delete(manuscript));
    }
    const text = await opened;
    if (!text) this.#open.delete(manuscript);
    else text.used = Date.now();
    return text;
  }

  /** The text with all that other processes have written. */
  async #newest(manuscript: string): Promise<OpenText | null> {
    const text = await this.#held(manuscript);
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
    if (!this.#open.has(manuscript)) return Promise.resolve();
    return this.#turnsOf(manuscript).alone(async () => {
      const text = await this.#held(manuscript);
      if (text?.version === version)
        this.#follow(
          text,
          steps.map((step, i) => ({ step, client: clients[i]! })),
        );
    });
  }

  /** Takes in a batch of steps, all of one intent, if the rules allow it. */
  submit(manuscript: string, author: Author, submission: Submission): Promise<Outcome> {
    const allowed = may(submission.intent === 'ink' ? 'write in ink' : 'write in pencil', author);
    if (allowed !== true) return Promise.resolve({ refused: allowed });
    return new Promise((answer) => this.#turnsOf(manuscript).add({ author, submission, answer }));
  }

  /** The text as this process holds it just now, if it does: it is asked for nothing. */
  async atHand(manuscript: string): Promise<OpenText | null> {
    return (await this.#open.get(manuscript)?.catch(() => null)) ?? null;
  }

  /** Takes in what has been waiting. */
  async #takeIn(manuscript: string, jobs: readonly Job[]): Promise<void> {
    let left = jobs;
    try {
      // When another process was first, all is tried again on top of what it has written.
      for (let attempt = 0; left.length && attempt < 5; attempt++) {
        let text = await this.#held(manuscript);
        const missed = left.some(({ submission }) => text && submission.version > text.version);
        if (attempt || missed) text = await this.#newest(manuscript);
        if (!text) return left.forEach(({ answer }) => answer({ refused: noText }));
        left = await this.#takeInto(manuscript, text, left);
      }
      left.forEach(({ answer }) => answer({ behind: true }));
    } catch (problem) {
      this.#open.delete(manuscript); // the text is read anew from what is committed
      this.#logger.warn({ manuscript, ...wentWrong('a batch waits', problem) });
      left.forEach(({ answer }) => answer({ later }));
    }
  }

  /**
   * Keeps those of the batches that the rules allow, in one go.
   * @returns those to be tried again, because another process has written meanwhile
   */
  async #takeInto(manuscript: string, text: OpenText, jobs: readonly Job[]): Promise<readonly Job[]> {
    const named = jobs.map(({ submission }) => namedChanges(submission.steps));
    const asked = named.flatMap((ids) => [...ids].filter((id) => !text.known.has(id)));
    for (const [id, change] of await this.log.knownChanges(manuscript, asked)) text.known.set(id, change);

    const now = new Date().toISOString();
    const trial = text.trial();
    const fresh = new Map<ChangeId, Known>();
    const known = (id: ChangeId) => text.known.get(id) ?? fresh.get(id);
    const taken: { job?: Job; tr: Transform; batch: Batch }[] = [];
    const gone: StrayAt[] = [];
    for (const [i, job] of jobs.entries()) {
      const { author, submission, answer } = job;
      const { version, steps, intent, client } = submission;
      try {
        const current = version === trial.version;
        const tr = await breathing(trial.batch(version, steps, client));
        if (!tr) {
          answer({ behind: true });
          continue;
        }
        const sender = { author: author.personId, now, known };
        const wrong = await breathing(checkInParts(trial.doc, tr.doc, tr.steps, tr.mapping, intent, sender));
        if (wrong) {
          answer(current ? { refused: wrong } : { behind: true }); // the sender may put it right on the newest text
          continue;
        }
        const full = text.known.size + fresh.size >= limits.changes && changeIds(tr.doc).size > limits.changes;
        if (full) {
          answer({ refused: `This is too much: ${limitWords.changes}.` });
          continue;
        }
        const mine = intent === 'pencil' ? freshChanges(named[i]!, tr.doc, known) : new Map<ChangeId, Known>();
        for (const [id, change] of mine) fresh.set(id, change);
        trial.take(tr, client);
        gone.push(...straysAt(tr, trial.version));
        taken.push({ job, tr, batch: { steps: tr.steps, author: author.personId, intent, client, fresh: mine } });
        const even = new Transform(trial.doc);
        if (squareTables(even)) {
          // One has put in a row while another has put in a column.
          trial.take(even, 'server');
          taken.push({ tr: even, batch: { steps: even.steps, author: null, intent: 'mend', client: 'server' } });
        }
      } catch {
        answer({ refused: 'This change does not fit the text.' });
      }
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
        this.#open.delete(manuscript);
        this.#logger.warn({ manuscript, ...wentWrong('steps of the server were not kept', problem) });
        return { later: 'The server cannot keep anything just now. Nothing was done; please try again.' };
      }
    });
  }
}
