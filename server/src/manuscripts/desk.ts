import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, Any } from 'typeorm';
import type { DeletedLine, DeskLine, DeskPlace, HereNow, Role } from '@tea-pencil/wire';
import { PersonRow } from '../database/entities.js';
import { parts, type Summary } from '../database/kept-text.js';
import { Broadcasting } from '../live/broadcasting.js';
import { keptDays } from './deleting.js';

interface Line {
  id: string;
  title: string;
  note: string;
  role: Role;
  takes_away: boolean;
  touched_at: Date;
  touched_by: string;
  touched_by_name: string;
  summary: Summary | null;
  sealed: boolean;
  archived: boolean | null;
  labels: string[] | null;
}

const untold: Summary = { pending: 0, kinds: {}, authors: {}, spine: [] };

/** The manuscripts of a person and what waits in each, from summaries: no text is opened for it. */
@Injectable()
export class Desk {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly live: Broadcasting,
  ) {}

  /** All lines, the last touched first. */
  async of(me: string): Promise<DeskLine[]> {
    const lines = await this.database.query<Line[]>(
      `SELECT manuscripts.id, title, manuscripts.note, role, takes_away, touched_at, touched_by,
         people.name AS touched_by_name, summary, seals.manuscript_id IS NOT NULL AS sealed, archived, labels
       FROM members JOIN manuscripts ON manuscripts.id = members.manuscript_id JOIN people ON people.id = touched_by
         LEFT JOIN summaries ON summaries.manuscript_id = manuscripts.id
         LEFT JOIN seals ON seals.manuscript_id = manuscripts.id
         LEFT JOIN desk_places ON desk_places.manuscript_id = manuscripts.id AND desk_places.person_id = members.person_id
       WHERE members.person_id = $1 AND deleted_at IS NULL ORDER BY touched_at DESC`,
      [me],
    );
    const ids = lines.map(({ id }) => id);
    const drawn = new Set(lines.flatMap(({ summary }) => (summary ?? untold).spine.map(([, author]) => author)));
    const [hues, threads, owed] = await Promise.all([
      this.#hues(ids, [...drawn]),
      this.#openThreads(ids, me),
      this.#owed(ids, me),
    ]);
    return lines.map(({ id, title, note, role, touched_at, touched_by, touched_by_name, summary, ...more }) => {
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
        sealed: more.sealed,
        takesAway: more.takes_away,
        archived: more.archived ?? false,
        labels: more.labels ?? [],
      };
    });
  }

  /** Who has which manuscript open just now, of those that are on somebody’s desk. */
  async here(me: string): Promise<HereNow> {
    const lines = await this.database.query<{ id: string }[]>(
      `SELECT manuscript_id AS id FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
       WHERE person_id = $1 AND deleted_at IS NULL`,
      [me],
    );
    const here = await this.live.here(lines.map(({ id }) => id));
    const people = await this.database.getRepository(PersonRow).find({
      where: { id: Any([...new Set([...here.values()].flatMap((ids) => [...ids]))]) },
      select: { id: true, name: true, initials: true, portrait: true },
    });
    return Object.fromEntries(
      [...here].map(([id, ids]) => [id, people.filter((one) => ids.has(one.id) && one.id !== me)]),
    );
  }

  /** Puts a manuscript somewhere on one’s own desk. What is not said stays as it is. */
  async put(manuscript: string, me: string, { archived, labels }: DeskPlace): Promise<void> {
    await this.database.query(
      `INSERT INTO desk_places (manuscript_id, person_id, archived, labels)
       VALUES ($1, $2, coalesce($3, false), coalesce($4, '{}'::text[]))
       ON CONFLICT (manuscript_id, person_id) DO UPDATE SET
         archived = coalesce($3, desk_places.archived), labels = coalesce($4, desk_places.labels)`,
      [manuscript, me, archived ?? null, labels ? [...new Set(labels)] : null],
    );
  }

  /** The deleted manuscripts that one can bring back, the last one first. */
  async deleted(me: string): Promise<DeletedLine[]> {
    const rows = await this.database.query<{ id: string; title: string; by_name: string; at: Date; goes_at: Date }[]>(
      `SELECT manuscripts.id, title, people.name AS by_name, deleted_at AS at,
         deleted_at + $2 * interval '1 day' AS goes_at
       FROM members JOIN manuscripts ON manuscripts.id = manuscript_id JOIN people ON people.id = deleted_by
       WHERE person_id = $1 AND role = 'keeper' AND deleted_at IS NOT NULL ORDER BY deleted_at DESC`,
      [me, keptDays],
    );
    return rows.map(({ by_name: byName, at, goes_at, ...row }) => ({
      ...row,
      byName,
      at: at.toISOString(),
      goesAt: goes_at.toISOString(),
    }));
  }

  /** The hues of people in manuscripts. */
  async #hues(ids: readonly string[], people: readonly string[]): Promise<Map<string, number>> {
    const rows = await this.database.query<{ manuscript: string; person: string; hue: number }[]>(
      `SELECT manuscript_id AS manuscript, person_id AS person, hue FROM named_people
       WHERE manuscript_id = ANY ($1) AND person_id = ANY ($2)
       UNION ALL SELECT manuscript_id, person_id, hue FROM members WHERE manuscript_id = ANY ($1) AND person_id = ANY ($2)`,
      [ids, people],
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
