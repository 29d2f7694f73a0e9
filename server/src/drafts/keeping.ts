import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource } from 'typeorm';
import { wentWrong } from '../running/log.js';

/** How often one looks, in milliseconds. */
const beat = 120_000;

/** Long work that has come to rest: so many steps since the last draft, and none for so many minutes. */
const longWork = 200;
const restMinutes = 10;

/**
 * Keeps drafts in quiet moments, and lets go of what nobody needs any more: of those that were kept by themselves all stay
 * for two days, the last of each day for a month, and the last of each week after that. Named ones stay, and how the text
 * came.
 */
@Injectable()
export class Keeping implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Drafts');
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(@InjectDataSource() private readonly database: DataSource) {}

  onModuleInit(): void {
    this.#timer = setInterval(() => void this.#round(), beat).unref();
  }
  onModuleDestroy(): void {
    clearInterval(this.#timer);
  }

  async #round(): Promise<void> {
    try {
      await this.keepQuiet();
      await this.thin();
    } catch (problem) {
      this.#logger.warn(wentWrong('drafts wait to be kept', problem));
    }
  }

  /** Keeps the texts that have come to rest. */
  async keepQuiet(): Promise<void> {
    const quiet = await this.database.query<{ manuscript: string; version: number; at: Date }[]>(
      `SELECT manuscripts.id AS manuscript, last.version + 1 AS version, last.at FROM manuscripts
       JOIN LATERAL (SELECT version, at FROM steps WHERE manuscript_id = manuscripts.id ORDER BY version DESC LIMIT 1)
         AS last ON true
       JOIN LATERAL (SELECT coalesce(max(version), 0) AS version FROM drafts WHERE manuscript_id = manuscripts.id)
         AS kept ON true
       WHERE manuscripts.touched_at > now() - interval '2 days' AND last.version + 1 - kept.version >= $1
         AND last.at < now() - $2 * interval '1 minute'`,
      [longWork, restMinutes],
    );
    for (const { manuscript, version, at } of quiet)
      await this.database.query(
        `INSERT INTO drafts (id, manuscript_id, version, reason, at) SELECT $1, $2, $3, 'quiet', $4
         WHERE NOT EXISTS (SELECT 1 FROM drafts WHERE manuscript_id = $2 AND version = $3)`,
        [nanoid(12), manuscript, version, at],
      );
  }

  /** Lets go of drafts that kept themselves, the older the more; the log keeps every moment all the same. */
  async thin(): Promise<void> {
    await this.database.query("DELETE FROM drafts WHERE gone_at < now() - interval '30 days'");
    await this.database.query(`
      DELETE FROM drafts WHERE id IN (
        SELECT id FROM (
          SELECT id, at, row_number() OVER (
            PARTITION BY manuscript_id, CASE WHEN at < now() - interval '30 days' THEN date_trunc('week', at)
              ELSE date_trunc('day', at) END ORDER BY at DESC, version DESC) AS place
          FROM drafts WHERE name IS NULL AND reason NOT IN ('hand', 'came', 'fair copy') AND at < now() - interval '2 days'
        ) AS old WHERE place > 1
      )`);
  }
}
