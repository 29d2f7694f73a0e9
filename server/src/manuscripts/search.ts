import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { FoundLine } from '@tea-pencil/wire';
import { Authority } from '../live/authority.js';
import { wentWrong } from '../running/log.js';
import { Workers } from '../work/workers.js';

/** A text is made searchable again when nobody has written in it for so long, in milliseconds; or at the latest after so long. */
const pause = 8000;
const latest = 60_000;
/** How many manuscripts are found at most, and how many words are looked for. */
const most = 200;
const mostWords = 12;
/** How much of the text is shown around what was found, in letters. */
const around = 60;

/** The words of what is typed, without what is no letter or number. */
export const wordsOf = (typed: string): string[] => (typed.match(/[\p{L}\p{N}\p{M}]+/gu) ?? []).slice(0, mostWords);

/** Finds manuscripts by their words: those of the titles, and of the texts as they read when all is accepted. */
@Injectable()
export class Search implements OnModuleInit, OnModuleDestroy {
  readonly #logger = new Logger('Search');
  readonly #waiting = new Map<string, { since: number; timer: ReturnType<typeof setTimeout> }>();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly workers: Workers,
  ) {}

  onModuleInit(): void {
    this.authority.events.on('steps', ({ manuscript }) => this.#later(manuscript));
    void this.#catchUp();
  }

  onModuleDestroy(): void {
    for (const { timer } of this.#waiting.values()) clearTimeout(timer);
  }

  #later(manuscript: string): void {
    const { since = Date.now(), timer } = this.#waiting.get(manuscript) ?? {};
    clearTimeout(timer);
    const wait = Math.max(0, Math.min(pause, since + latest - Date.now()));
    const again = setTimeout(() => {
      this.#waiting.delete(manuscript);
      void this.#make(manuscript);
    }, wait).unref();
    this.#waiting.set(manuscript, { since, timer: again });
  }

  async #make(manuscript: string): Promise<void> {
    await this.workers
      .keep<void>('makeSearchable', manuscript)
      .catch((problem: unknown) =>
        this.#logger.warn({ manuscript, ...wentWrong('a text is not searchable yet', problem) }),
      );
  }

  /** Texts that were here before they could be searched. */
  async #catchUp(): Promise<void> {
    try {
      const rows = await this.database.query<{ id: string }[]>(
        'SELECT id FROM manuscripts WHERE NOT EXISTS (SELECT 1 FROM searchable WHERE manuscript_id = manuscripts.id)',
      );
      for (const { id } of rows) await this.#make(id);
    } catch (problem) {
      this.#logger.warn(wentWrong('texts are not searchable yet', problem));
    }
  }

  /** The manuscripts of a person in which all words begin so, in the title or in the text; those by their titles first. */
  async find(me: string, typed: string): Promise<FoundLine[]> {
    const words = wordsOf(typed);
    if (!words.length) return [];
    const queries = words.map((word) => `'${word}':*`);
    const rows = await this.database.query<{ id: string; title: boolean; body: string | null }[]>(
      `WITH mine AS (
         SELECT manuscripts.id, title FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
         WHERE person_id = $1 AND deleted_at IS NULL
       ), words AS (SELECT to_tsquery('simple', word) AS word FROM unnest($2::text[]) AS word),
       titled AS (
         SELECT id FROM mine WHERE NOT EXISTS
           (SELECT 1 FROM words WHERE NOT to_tsvector('simple', title) @@ word)
       ), written AS (
         SELECT mine.id FROM mine WHERE NOT EXISTS
           (SELECT 1 FROM words WHERE NOT EXISTS
             (SELECT 1 FROM searchable WHERE manuscript_id = mine.id AND searchable.words @@ word))
       )
       SELECT mine.id, mine.id IN (SELECT id FROM titled) AS title,
         (SELECT body FROM searchable WHERE manuscript_id = mine.id AND searchable.words @@ to_tsquery('simple', $3) ORDER BY piece LIMIT 1) AS body
       FROM mine WHERE id IN (SELECT id FROM titled UNION SELECT id FROM written) ORDER BY 2 DESC, title LIMIT ${most}`,
      [me, queries, queries[0]],
    );
    return rows.map(({ id, body }) => ({ id, piece: body === null ? null : pieceOf(body, words[0]!) }));
  }
}

/** A piece of a text around the first place where a word begins so. */
function pieceOf(body: string, word: string): FoundLine['piece'] {
  const found = new RegExp(`(?<![\\p{L}\\p{N}\\p{M}])${word}[\\p{L}\\p{N}\\p{M}]*`, 'iu').exec(body);
  if (!found) return null;
  const [words] = found;
  const end = found.index + words.length;
  const before = body.slice(Math.max(0, found.index - around), found.index);
  const behind = body.slice(end, end + around);
  const line = (text: string) => text.replace(/\s+/gu, ' ');
  return [
    (found.index > around ? '…' : '') + line(before.replace(/^\S*\s/u, found.index > around ? '' : '$&')),
    words,
    line(behind) + (end + around < body.length ? '…' : ''),
  ];
}
