import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { Authority } from './authority.js';
import { keepSummary, summaryOf } from '../database/kept-text.js';
import { wentWrong } from '../running/log.js';

/** A text that is being written is summed up again so long after the last time, in milliseconds. */
const pause = 700;

/**
 * Sums up texts that people write in, a moment after they have: decisions and checkpoints keep a summary of their own. What
 * is written in the last moment before a process dies is summed up with the next edit.
 */
@Injectable()
export class Summaries implements OnModuleInit, OnModuleDestroy {
  readonly #waiting = new Map<string, ReturnType<typeof setTimeout>>();
  readonly #logger = new Logger('Summaries');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
  ) {}

  onModuleInit(): void {
    this.authority.events.on('steps', ({ manuscript }) => {
      if (!this.#waiting.has(manuscript))
        this.#waiting.set(
          manuscript,
          setTimeout(() => void this.#sumUp(manuscript), pause),
        );
    });
  }

  async onModuleDestroy(): Promise<void> {
    const left = [...this.#waiting.keys()];
    for (const timer of this.#waiting.values()) clearTimeout(timer);
    await Promise.all(left.map((manuscript) => this.#sumUp(manuscript)));
  }

  async #sumUp(manuscript: string): Promise<void> {
    this.#waiting.delete(manuscript);
    try {
      const text = (await this.authority.atHand(manuscript)) ?? (await this.authority.text(manuscript));
      if (text) await keepSummary(this.database.manager, manuscript, text.version, summaryOf(text.doc));
    } catch (problem) {
      this.#logger.warn({ manuscript, ...wentWrong('no summary', problem) });
    }
  }
}
