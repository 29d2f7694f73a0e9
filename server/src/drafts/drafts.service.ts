import { ForbiddenException, Injectable, Logger, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { Draft, DraftChange, Drafts, Moment, Stretch, TimeLine } from '@tea-pencil/wire';
import { DraftRow } from '../database/draft-entities.js';
import { keepDraft } from '../database/kept-draft.js';
import { Authority } from '../live/authority.js';
import { Broadcasting } from '../live/broadcasting.js';
import { History } from '../live/history.js';
import { may, type Member } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { wentWrong } from '../running/log.js';
import { Workers } from '../work/workers.js';

/** In how many stretches a time line is cut, and how short they get, in milliseconds. */
const stretches = 160;
const shortest = 60_000;
/** Work with a longer break in it is not one piece of work, in milliseconds; nor is more than so many steps. */
const breakOf = 120_000;
const mostSteps = 400;

interface LoggedMoment {
  version: number;
  author: string | null;
  intent: Moment['intent'];
  at: Date;
  come: number;
  gone: number;
}

const goesOn = (one: LoggedMoment, earlier: LoggedMoment) =>
  one.author === earlier.author && one.intent === earlier.intent && one.at.getTime() - earlier.at.getTime() < breakOf;

/** A state that is kept by hand: the newest one, or that of a version. */
export interface Keep {
  name?: string;
  note?: string;
  version?: number;
}

const asTold = ({ manuscriptId: _, goneAt: __, goneBy: ___, at, ...row }: DraftRow): Draft => ({
  ...row,
  at: at.toISOString(),
});

const notThere = 'There is no such draft in this manuscript.';

/** The kept states of a manuscript, and what happened between them. */
@Injectable()
export class DraftsService {
  readonly #counting = new Set<string>();
  readonly #logger = new Logger('Drafts');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly authority: Authority,
    private readonly history: History,
    private readonly workers: Workers,
    private readonly live: Broadcasting,
  ) {}

  async list(manuscriptId: string): Promise<Drafts> {
    const rows = await this.database
      .getRepository(DraftRow)
      .find({ where: { manuscriptId }, order: { version: 'DESC', at: 'DESC' }, take: 500 });
    if (rows.some(({ facts }) => !facts)) this.#count(manuscriptId);
    return {
      drafts: rows.flatMap((row) => (row.goneAt ? [] : asTold(row))),
      gone: rows.flatMap((row) =>
        row.goneAt ? { ...asTold(row), goneAt: row.goneAt.toISOString(), goneBy: row.goneBy } : [],
      ),
      ...(await this.#ends(manuscriptId)),
    };
  }

  /** The newest version, when it was made, and when the text began. */
  async #ends(manuscriptId: string): Promise<Omit<Drafts, 'drafts' | 'gone'>> {
    const [ends] = await this.database.query<{ version: number | null; at: Date | null; began: Date | null }[]>(
      `SELECT (SELECT max(version) + 1 FROM steps WHERE manuscript_id = $1) AS version,
         (SELECT at FROM steps WHERE manuscript_id = $1 ORDER BY version DESC LIMIT 1) AS at,
         least((SELECT at FROM steps WHERE manuscript_id = $1 ORDER BY version LIMIT 1),
           (SELECT min(at) FROM drafts WHERE manuscript_id = $1)) AS began`,
      [manuscriptId],
    );
    const began = ends?.began ?? new Date();
    const at = ends?.at ?? began;
    return { version: ends?.version ?? 0, at: at.toISOString(), began: began.toISOString() };
  }

  /** Has what is not counted yet counted, beside everything else. */
  #count(manuscript: string): void {
    if (this.#counting.has(manuscript)) return;
    this.#counting.add(manuscript);
    this.workers
      .keep<void>('countDrafts', manuscript)
      .then(() => this.live.changed(manuscript, 'drafts'))
      .catch((problem: unknown) => this.#logger.warn({ manuscript, ...wentWrong('drafts are not counted', problem) }))
      .finally(() => this.#counting.delete(manuscript));
  }

  /** Keeps a state by hand: the newest one, or that of a version. */
  async keep(by: Member, { name, note, version }: Keep) {
    const { manuscriptId, personId } = by;
    const text = await this.authority.text(manuscriptId);
    if (!text || (version ?? 0) > text.version) throw new NotFoundException('The text has no such version.');
    const at = await this.history.endUpTo(manuscriptId, version ?? text.version);
    const draft = {
      ...{ manuscriptId, version: at, reason: 'hand' as const, by: personId },
      ...(name !== undefined && { name }),
      ...(note !== undefined && { note }),
    };
    const id = await this.memberships.write(by, 'keep drafts', (manager) => keepDraft(manager, draft));
    this.live.changed(manuscriptId, 'drafts');
    return { id, version: at };
  }

  /** @throws NotFoundException where there is none */
  change = (by: Member, id: string, change: DraftChange): Promise<void> => this.#change(by, id, change);

  /** Lets a draft go: the name, that is; the moment stays in the log. It can be brought back for thirty days. */
  letGo = (by: Member, id: string): Promise<void> => this.#change(by, id, { goneAt: new Date(), goneBy: by.personId });

  bringBack = (by: Member, id: string): Promise<void> => this.#change(by, id, { goneAt: null, goneBy: null });

  /** Changes a draft of one's own; those of others, and those that keep themselves, are the keepers'. */
  async #change(by: Member, id: string, change: Partial<DraftRow>): Promise<void> {
    const { manuscriptId, personId } = by;
    await this.memberships.write(by, 'keep drafts', async (manager, member) => {
      const draft = await manager.findOneBy(DraftRow, { manuscriptId, id });
      if (!draft) throw new NotFoundException(notThere);
      const allowed = draft.keptBy === personId || may('change drafts of others', member);
      if (allowed !== true) throw new ForbiddenException(allowed);
      await manager.update(DraftRow, id, change);
    });
    this.live.changed(manuscriptId, 'drafts');
  }

  /** Who wrote when, and how much. */
  async timeLine(manuscriptId: string): Promise<TimeLine> {
    const { began, at } = await this.#ends(manuscriptId);
    const [from, to] = [Date.parse(began), Math.max(Date.parse(at), Date.parse(began) + shortest)];
    const width = Math.max(shortest, Math.ceil((to - from) / stretches));
    const rows = await this.database.query<(Omit<Stretch, 'at'> & { stretch: number })[]>(
      `SELECT floor(extract(epoch FROM at - $2::timestamptz) * 1000 / $3)::int AS stretch, author, intent,
         max(version) + 1 AS version, sum(come)::int AS come, sum(gone)::int AS gone
       FROM steps WHERE manuscript_id = $1 AND intent <> 'anchor' GROUP BY 1, 2, 3 ORDER BY 1, 4`,
      [manuscriptId, began, width],
    );
    return {
      from: began,
      to: new Date(to).toISOString(),
      width,
      stretches: rows.map(({ stretch, ...row }) => ({ ...row, at: (stretch + 1) * width })),
    };
  }

  /** The moment at a version, or the piece of work before it or after it. */
  async moment(manuscriptId: string, version: number, go: 'here' | 'earlier' | 'later'): Promise<Moment> {
    const { began } = await this.#ends(manuscriptId);
    const beginning: Moment = { version: 0, from: began, at: began, author: null, intent: null, come: 0, gone: 0 };
    const here = await this.#pieceUpTo(manuscriptId, version);
    if (go === 'here') return here ?? beginning;
    if (go === 'earlier') return (here && (await this.#pieceUpTo(manuscriptId, here.first))) ?? beginning;
    const rows = await this.#logged(manuscriptId, 'version >= $2 AND ends ORDER BY version', version);
    const end = rows.findIndex((row, i) => i > 0 && !goesOn(row, rows[i - 1]!));
    const last = rows[(end < 0 ? rows.length : end) - 1];
    return last ? (await this.#pieceUpTo(manuscriptId, last.version + 1))! : (here ?? beginning);
  }

  #logged(manuscriptId: string, where: string, version: number): Promise<LoggedMoment[]> {
    return this.database.query(
      `SELECT version, author, intent, at, come, gone FROM steps WHERE manuscript_id = $1 AND ${where} LIMIT ${mostSteps}`,
      [manuscriptId, version],
    );
  }

  /** What was done up to a version in one go. */
  async #pieceUpTo(manuscriptId: string, version: number): Promise<(Moment & { first: number }) | null> {
    const end = await this.history.endUpTo(manuscriptId, version);
    const rows = await this.#logged(manuscriptId, 'version < $2 ORDER BY version DESC', end);
    const [last] = rows;
    if (!last) return null;
    const broken = rows.findIndex((row, i) => i > 0 && !goesOn(rows[i - 1]!, row));
    const piece = broken < 0 ? rows : rows.slice(0, broken);
    const first = piece.at(-1)!;
    return {
      first: first.version,
      version: end,
      from: first.at.toISOString(),
      at: last.at.toISOString(),
      author: last.author,
      intent: last.intent,
      come: piece.reduce((sum, { come }) => sum + come, 0),
      gone: piece.reduce((sum, { gone }) => sum + gone, 0),
    };
  }
}
