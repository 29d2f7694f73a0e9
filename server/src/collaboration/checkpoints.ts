import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { Worker } from 'node:worker_threads';
import { databaseUrl } from '../database/database.module.js';

/** How many versions pass between two checkpoints of a manuscript. */
const every = 500;

/** Has the whole text kept every so many versions, so that opening it never replays a long log. */
@Injectable()
export class Checkpoints implements OnModuleDestroy {
  #worker: Worker | null = null;
  readonly #running = new Set<string>();
  readonly #logger = new Logger('Checkpoints');

  /** Notes that a manuscript has gone on from one version to another. */
  passed(manuscript: string, from: number, to: number): void {
    if (Math.floor(from / every) === Math.floor(to / every) || this.#running.has(manuscript)) return;
    this.#running.add(manuscript);
    (this.#worker ??= this.#start()).postMessage(manuscript);
  }

  #start(): Worker {
    const worker = new Worker(new URL('./checkpoint-worker.js', import.meta.url), { workerData: databaseUrl() });
    worker.unref();
    worker.on('message', ({ manuscript, problem }: { manuscript: string; problem?: string }) => {
      this.#running.delete(manuscript);
      if (problem) this.#logger.warn(`No checkpoint of ${manuscript}: ${problem}`);
    });
    worker.on('error', (problem) => this.#logger.warn(`No checkpoint: ${String(problem)}`));
    worker.on('exit', () => {
      this.#running.clear();
      this.#worker = null;
    });
    return worker;
  }

  async onModuleDestroy(): Promise<void> {
    await this.#worker?.terminate();
  }
}
