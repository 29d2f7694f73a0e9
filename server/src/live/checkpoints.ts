import { Injectable, Logger } from '@nestjs/common';
import { Workers } from '../work/workers.js';
import { wentWrong } from '../running/log.js';

/** How many versions pass between two checkpoints of a manuscript. */
const every = 500;

/** Has the whole text kept every so many versions, so that opening it never replays a long log. */
@Injectable()
export class Checkpoints {
  readonly #running = new Set<string>();
  readonly #logger = new Logger('Checkpoints');

  constructor(private readonly workers: Workers) {}

  /** Notes that a manuscript has gone on from one version to another. */
  passed(manuscript: string, from: number, to: number): void {
    if (Math.floor(from / every) === Math.floor(to / every) || this.#running.has(manuscript)) return;
    this.#running.add(manuscript);
    this.workers
      .keep<void>('checkpoint', manuscript)
      // Without one, opening takes a little longer; the next is tried in its time.
      .catch((problem: unknown) => this.#logger.warn({ manuscript, ...wentWrong('no checkpoint', problem) }))
      .finally(() => this.#running.delete(manuscript));
  }
}
