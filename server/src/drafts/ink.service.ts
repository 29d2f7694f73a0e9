import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { toDate } from '@tea-pencil/core';
import type { BroughtBack, InkPiece } from '@tea-pencil/wire';
import { may, type Member } from '../policy/may.js';
import { saysBusy, Workers } from '../work/workers.js';
import type { Ink, ToLayDown } from './ink-task.js';
import { RewritingService } from './rewriting.service.js';
import type { Rewritten } from './rewriting-task.js';

/** Ink with a longer break in it is two pieces, in minutes; nor is more than so many steps one. */
const breakMinutes = 10;
const mostSteps = 2000;
/** How many pieces are listed, the newest first. */
const mostPieces = 200;

/** What was done in ink, and by whom. */
@Injectable()
export class InkService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly rewriting: RewritingService,
    private readonly workers: Workers,
  ) {}

  /** The pieces of ink of a manuscript: what one person did in ink, with nobody else in between and no longer break. */
  async #pieces(manuscript: string): Promise<(Ink & { author: string; at: Date })[]> {
    return this.database.query(
      `WITH logged AS (
         SELECT version, author, intent, at, CASE WHEN lag(author) OVER log IS DISTINCT FROM author
           OR lag(intent) OVER log <> intent OR at - lag(at) OVER log > $2 * interval '1 minute'
           OR version / $3 <> lag(version) OVER log / $3 AND lag(ends) OVER log THEN 1 ELSE 0 END AS begins
         FROM steps WHERE manuscript_id = $1 AND intent <> 'anchor' WINDOW log AS (ORDER BY version)
       ), numbered AS (SELECT *, sum(begins) OVER (ORDER BY version) AS piece FROM logged)
       SELECT min(version) AS "from", max(version) + 1 AS "to", author, max(at) AS at FROM numbered
       WHERE intent = 'ink' GROUP BY piece, author ORDER BY 1 DESC LIMIT ${mostPieces}`,
      [manuscript, breakMinutes, mostSteps],
    );
  }

  async list(manuscript: string, me: string): Promise<InkPiece[]> {
    const pieces = await this.#pieces(manuscript);
    const known = new Map((await this.#read(manuscript)).map((row) => [`${row.from} ${row.to}`, row]));
    const missing = pieces.filter(({ from, to }) => !known.has(`${from} ${to}`)).map(({ from, to }) => ({ from, to }));
    if (missing.length) {
      // The newest piece may have grown since it was read.
      await this.database.query('DELETE FROM ink_pieces WHERE manuscript_id = $1 AND from_version = ANY ($2)', [
        manuscript,
        missing.map(({ from }) => from),
      ]);
      const task = { manuscript, pieces: missing };
      await saysBusy(this.workers.run<void>('readInk', () => Promise.resolve(task), { of: me }));
      for (const row of await this.#read(manuscript)) known.set(`${row.from} ${row.to}`, row);
    }
    return pieces.flatMap(({ from, to, author, at }) => {
      const row = known.get(`${from} ${to}`);
      if (!row?.many) return [];
      return { from, to, author, at: at.toISOString(), edits: row.edits, many: row.many, laidDown: row.laidDown };
    });
  }

  #read(manuscript: string): Promise<(Ink & Pick<InkPiece, 'edits' | 'many' | 'laidDown'>)[]> {
    return this.database.query(
      `SELECT from_version AS "from", to_version AS "to", edits, many, EXISTS (SELECT 1 FROM acts
         WHERE acts.manuscript_id = $1 AND ink_from = ink_pieces.from_version AND taken_back_by IS NULL) AS "laidDown"
       FROM ink_pieces WHERE manuscript_id = $1`,
      [manuscript],
    );
  }

  /** Lays a piece of ink down in pencil, as changes of whoever made it. */
  async layDown(by: Member, from: number, stop: AbortSignal): Promise<BroughtBack> {
    const { manuscriptId: manuscript } = by;
    const piece = (await this.#pieces(manuscript)).find((one) => one.from === from);
    if (!piece) throw new NotFoundException('There is no such piece of ink in this manuscript.');
    const { author, at, to } = piece;
    const { act, changes } = await this.rewriting.rewrite({
      by,
      allows: (member) => may('decide', member),
      intent: 'pencil',
      keep: { reason: 'back', before: 'laying ink down in pencil' },
      inkFrom: from,
      make: (now, version) => {
        const task: ToLayDown = { now, version, manuscript, from, to, author, date: toDate(at) };
        return this.workers.run<Rewritten>('layDown', () => Promise.resolve(task), { of: by.personId, stop });
      },
    });
    return { act, changes };
  }
}
