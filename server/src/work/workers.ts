import {
  Global,
  HttpException,
  HttpStatus,
  Injectable,
  Module,
  ServiceUnavailableException,
  type OnModuleDestroy,
} from '@nestjs/common';
import { Piscina } from 'piscina';
import { NotTakenOn, Queue, type Busy } from './queue.js';
import { Settings } from '../settings/settings.js';

/** How long a piece of work may take, and how much memory a thread may use. */
const longest = 120_000;
const memory = { maxOldGenerationSizeMb: 1536 };
/** How long work waits for its turn: with the work itself less than a request may take. */
const patience = 50_000;
/** A thread with nothing to do ends after so long, in milliseconds: one for files, and the one for texts of the house. */
const idle = { files: 30_000, texts: 300_000 };

/** Work that was given up: it took too long, was stopped, or needed too much memory. */
export class GivenUp extends Error {
  constructor(readonly because: 'stopped' | 'too long' | 'too large') {
    super(`The work was given up: ${because}.`);
  }
}

const busy: Record<Busy, string> = {
  'enough of one': 'You have several files on their way already. Try again when they are done.',
  'enough of all': 'Too many files are on their way just now. Try again in a few minutes.',
  'waited too long': 'Other files took too long, and this one was not begun. Try again in a few minutes.',
};
const givenUp: Record<GivenUp['because'], string> = {
  stopped: 'This was stopped. Nothing was changed.',
  'too long': 'This took too long and was given up. Nothing was changed.',
  'too large': 'This text is too large for that. Nothing was changed.',
};

/** What is said to people of work that was not done; anything else stays what it is. */
export function said(problem: unknown): unknown {
  if (problem instanceof NotTakenOn) return new HttpException(busy[problem.because], HttpStatus.TOO_MANY_REQUESTS);
  if (problem instanceof GivenUp) return new ServiceUnavailableException(givenUp[problem.because]);
  return problem;
}

/** Work, whose failing is said in words. */
export const saysBusy = <T>(work: Promise<T>): Promise<T> =>
  work.catch((problem: unknown) => {
    throw said(problem);
  });

export interface Job {
  /** Whose work it is. */
  of: string;
  stop?: AbortSignal;
}

/**
 * Threads for whatever may take long: reading and writing files, and keeping the texts of manuscripts whole. What they can
 * do is what `worker.ts` exports.
 */
@Injectable()
export class Workers implements OnModuleDestroy {
  readonly #files: Piscina;
  readonly #texts: Piscina;
  readonly #queue: Queue;

  constructor(settings: Settings) {
    const filename = new URL('../worker.js', import.meta.url).href;
    const pool = (maxThreads: number, idleTimeout: number) =>
      new Piscina({
        filename,
        minThreads: 0,
        maxThreads,
        idleTimeout,
        resourceLimits: memory,
        workerData: { databaseUrl: settings.databaseUrl },
      });
    this.#queue = new Queue({ together: settings.workers, ofOne: 4, ofAll: 40, patience });
    this.#files = pool(settings.workers, idle.files);
    this.#texts = pool(1, idle.texts);
  }

  /** Work on texts of the house itself, one piece after the other. */
  keep = <T>(name: string, task: unknown): Promise<T> => this.#texts.run(task, { name }) as Promise<T>;

  /** How many pieces of work are done before the one this person has waiting; null where none waits. */
  ahead = (of: string): number | null => this.#queue.ahead(of);

  /** How many pieces are done just now, and how many wait. */
  load = (): { under: number; waiting: number } => this.#queue.load();

  /**
   * Work that a person has asked for.
   * @param task made when its turn has come, so that what waits takes no room
   * @throws NotTakenOn where too much waits; GivenUp where it was stopped, took too long or needed too much; else what the
   *   work itself throws
   */
  run = <T>(name: string, task: () => Promise<unknown>, { of, stop }: Job): Promise<T> =>
    this.#queue.run(of, async () => this.#do<T>(name, await task(), stop), stop);

  async #do<T>(name: string, task: unknown, stop?: AbortSignal): Promise<T> {
    const late = AbortSignal.timeout(longest);
    try {
      return (await this.#files.run(task, { name, signal: stop ? AbortSignal.any([stop, late]) : late })) as T;
    } catch (problem) {
      if (stop?.aborted) throw new GivenUp('stopped');
      if (late.aborted) throw new GivenUp('too long');
      if ((problem as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw new GivenUp('too large');
      throw problem;
    }
  }

  async onModuleDestroy(): Promise<void> {
    await Promise.all([this.#files.destroy(), this.#texts.destroy()]);
  }
}

@Global()
@Module({ providers: [Workers], exports: [Workers] })
export class WorkModule {}
