import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { DeskLine, Role } from '@tea-pencil/wire';
import { parts, type Summary } from '../database/kept-text.js';

interface Line {
  id: string;
  title: string;
  note: string;
  role: Role;
  touched_at: Date;
  touched_by: string;
  touched_by_name: string;
  summary: Summary | null;
}

const untold: Summary = { pending: 0, kinds: {}, authors: {}, spine: [] };

/** The manuscripts of a person and what waits in each, from summaries: no text is opened for it. */
@Injectable()
export class Desk {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** All lines, the last touched first. */
  async of(me: string): Promise<DeskLine[]> {
    const lines = await this.database.query<Line[]>(
      `SELECT manuscripts.id, title, manuscripts.note, role, touched_at, touched_by, people.name AS touched_by_name, summary
       FROM members JOIN manuscripts ON manuscripts.id = members.manuscript_id JOIN people ON people.id = touched_by
         LEFT JOIN summaries ON summaries.manuscript_id = manuscripts.id
       WHERE person_id = $1 ORDER BY touched_at DESC`,
      [me],
    );
    const ids = lines.map(({ id }) => id);
    const [hues, threads, owed] = await Promise.all([this.#hues(ids), this.#openThreads(ids, me), this.#owed(ids, me)]);
    return lines.map(({ id, title, note, role, touched_at, touched_by, touched_by_name, summary }) => {
      const { pending, kinds, spine } = summary ?? untold;
      return {
        id,
        title,
        note,
        role,
        pending,
        kinds,
        openThreads: threads.get(id) ?? 0,
        owed: owed.get(id) ?? [],
        spine: { parts, strokes: spine.map(([part, author]) => [part, hues.get(`${id} ${author}`) ?? 0]) },
        touchedAt: touched_at.toISOString(),
        touchedBy: touched_by,
        touchedByName: touched_by_name,
      };
    });
  }

  /** The hue of each person in each manuscript. */
  async #hues(ids: readonly string[]): Promise<Map<string, number>> {
    const rows = await this.database.query<{ manuscript: string; person: string; hue: number }[]>(
      `SELECT manuscript_id AS manuscript, person_id AS person, hue FROM named_people WHERE manuscript_id = ANY ($1)
       UNION ALL SELECT manuscript_id, person_id, hue FROM members WHERE manuscript_id = ANY ($1)`,
      [ids],
    );
    return new Map(rows.map(({ manuscript, person, hue }) => [`${manuscript} ${person}`, hue]));
  }

  /** How many open threads somebody sees in each manuscript. */
  async #openThreads(ids: readonly string[], me: string): Promise<Map<string, number>> {
    const rows = await this.database.query<{ manuscript: string; n: number }[]>(
      `SELECT manuscript_id AS manuscript, count(*)::int AS n FROM threads
       WHERE manuscript_id = ANY ($1) AND NOT resolved AND (NOT to_self OR author = $2) AND
         EXISTS (SELECT 1 FROM comments WHERE thread_id = threads.id AND deleted_at IS NULL)
       GROUP BY manuscript_id`,
      [ids, me],
    );
    return new Map(rows.map(({ manuscript, n }) => [manuscript, n]));
  }

  /** Who owes answers in the threads that somebody sees. */
  async #owed(ids: readonly string[], me: string): Promise<Map<string, DeskLine['owed']>> {
    const rows = await this.database.query<{ manuscript: string; person: string; name: string; answers: number }[]>(
      `SELECT manuscript_id AS manuscript, query_to AS person, people.name, count(*)::int AS answers
       FROM comments JOIN threads ON threads.id = thread_id JOIN people ON people.id = query_to
       WHERE query_to IS NOT NULL AND settled_at IS NULL AND deleted_at IS NULL
         AND manuscript_id = ANY ($1) AND NOT resolved AND (NOT to_self OR threads.author = $2)
       GROUP BY manuscript_id, query_to, people.name ORDER BY answers DESC, query_to`,
      [ids, me],
    );
    const owed = new Map<string, DeskLine['owed']>();
    for (const { manuscript, ...one } of rows) owed.set(manuscript, [...(owed.get(manuscript) ?? []), one]);
    return owed;
  }
}
