import { Injectable, NotFoundException } from '@nestjs/common';
import type { SideBySide } from '@tea-pencil/wire';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { ToLayBeside } from './beside-task.js';

/** How many answers are remembered: the log does not change, so what two versions differ in does not either. */
const remembered = 4;

/** Lays drafts beside each other. */
@Injectable()
export class BesideService {
  readonly #answers = new Map<string, SideBySide>();

  constructor(
    private readonly authority: Authority,
    private readonly history: History,
    private readonly workers: Workers,
  ) {}

  async lay(asked: ToLayBeside, me: string, stop: AbortSignal): Promise<SideBySide> {
    const { manuscript, before, after } = asked;
    const text = await this.authority.text(manuscript);
    if (!text || Math.max(before, after) > text.version) throw new NotFoundException('The text has no such version.');
    const [one, other] = [Math.min(before, after), Math.max(before, after)];
    const task: ToLayBeside = {
      ...asked,
      before: await this.history.endUpTo(manuscript, one),
      after: await this.history.endUpTo(manuscript, other),
    };
    const key = JSON.stringify(task);
    const known = this.#answers.get(key);
    if (known) return known;
    const answer = await saysBusy(
      this.workers.run<SideBySide>('layBeside', () => Promise.resolve(task), { of: me, stop }),
    );
    this.#answers.set(key, answer);
    if (this.#answers.size > remembered) this.#answers.delete(this.#answers.keys().next().value!);
    return answer;
  }
}
