import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, In, IsNull, MoreThan, type EntityManager } from 'typeorm';
import { mentionsIn, type Remark } from '@tea-pencil/core';
import { Authority } from '../collaboration/authority.js';
import { LiveGateway } from '../collaboration/live.gateway.js';
import type { Decided } from '../collaboration/submissions.js';
import { CommentRow, MemberRow, NamedPersonRow, NoticeRow, PersonRow, type NoticeFacts } from '../database/entities.js';
import type { Role } from '../database/roles.js';
import type { NoticeChoice, NoticeKind } from './kinds.js';

/** Where something was said. */
interface Said {
  manuscript: string;
  by: string;
  thread: string;
  comment: string;
}

interface NewNotice {
  person: string;
  kind: NoticeKind;
  manuscript: string;
  by: string;
  thread?: string;
  comment?: string;
  facts?: NoticeFacts;
}

/** What comes where nothing else has been chosen. */
export const usualChoice: NoticeChoice = {
  mention: 'mail',
  query: 'mail',
  reply: 'mail',
  decision: 'mail',
  invitation: 'mail',
};

/** Decisions by one person within this time make one notice, in milliseconds. */
const together = 30 * 60_000;

/** Tells people what others did that concerns them. Nobody is told of what they did themselves. */
@Injectable()
export class Notices implements OnModuleInit {
  readonly #logger = new Logger('Notices');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly live: LiveGateway,
  ) {}

  onModuleInit(): void {
    this.authority.events.on('decided', (decided) => {
      this.#decided(decided).catch((problem: unknown) => this.#logger.warn(String(problem)));
    });
  }

  /** A comment in a thread that others see: for who is asked, who is mentioned, and who has spoken there before. */
  async comment(
    manager: EntityManager,
    said: Omit<Said, 'comment'> & { comment: { id: string; body: Remark; queryTo: string | null } },
  ): Promise<void> {
    const { manuscript, by, thread, comment } = said;
    const earlier = await manager.findBy(CommentRow, { threadId: thread, deletedAt: IsNull() });
    const kinds = new Map<string, NoticeKind>(earlier.map(({ author }) => [author, 'reply' as const]));
    for (const person of mentionsIn(comment.body)) kinds.set(person, 'mention');
    if (comment.queryTo) kinds.set(comment.queryTo, 'query');
    const about = { manuscript, by, thread, comment: comment.id };
    await this.#tell(
      manager,
      [...kinds].map(([person, kind]) => ({ person, kind, ...about })),
    );
  }

  /** People who are mentioned in a comment that was changed. */
  async mentioned(manager: EntityManager, said: Said, people: readonly string[]): Promise<void> {
    await this.#tell(
      manager,
      people.map((person) => ({ person, kind: 'mention' as const, ...said })),
    );
  }

  /** A comment was deleted: who has not read of it need not. */
  async withdrawn(manager: EntityManager, commentId: string): Promise<void> {
    await manager.delete(NoticeRow, { commentId, readAt: IsNull() });
  }

  /** Someone was given a role in a manuscript that they had no part in. */
  async invited(manuscript: string, by: string, person: string, role: Role): Promise<void> {
    await this.#tell(this.database.manager, [{ person, kind: 'invitation', manuscript, by, facts: { role } }]);
  }

  /** Who an author is among the people with accounts. */
  async #accountOf(manager: EntityManager, manuscriptId: string, author: string): Promise<string> {
    const named = await manager.findOneBy(NamedPersonRow, { manuscriptId, personId: author });
    return named?.matchedTo ?? author;
  }

  async #tell(manager: EntityManager, notices: readonly NewNotice[]): Promise<void> {
    for (const { person: author, kind, manuscript, by, thread, comment, facts = {} } of notices) {
      const person = await this.#accountOf(manager, manuscript, author);
      if (person === by) continue;
      if (!(await manager.existsBy(MemberRow, { manuscriptId: manuscript, personId: person }))) continue;
      const way = (await choiceOf(manager, person))[kind];
      if (way === 'nothing') continue;
      await manager.insert(NoticeRow, {
        id: nanoid(12),
        personId: person,
        manuscriptId: manuscript,
        kind,
        actor: by,
        threadId: thread ?? null,
        commentId: comment ?? null,
        facts,
        goesOut: way === 'mail',
      });
      this.live.changedFor(person, manuscript, 'post');
    }
  }

  /** Decisions on somebody's changes: those of one person that follow one another make one notice. */
  async #decided({ manuscript, decision, by, takenBack, verdict, changes }: Decided): Promise<void> {
    await this.database.transaction(async (manager) => {
      // One after the other, so that two decisions in a row do not make two notices.
      await manager.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`notices ${manuscript} ${by}`]);
      const about = { manuscriptId: manuscript, kind: 'decision' as const, readAt: IsNull() };
      if (takenBack) {
        for (const row of await manager.findBy(NoticeRow, about)) {
          const { [decision]: gone, ...left } = row.facts.decisions ?? {};
          if (!gone) continue;
          if (Object.keys(left).length) await manager.update(NoticeRow, row.id, { facts: { decisions: left } });
          else await manager.delete(NoticeRow, row.id);
          this.live.changedFor(row.personId, manuscript, 'post');
        }
        return;
      }
      const byPerson = new Map<string, string[]>();
      for (const author of new Set(changes.map((change) => change.author))) {
        const person = await this.#accountOf(manager, manuscript, author);
        const own = changes.filter((change) => change.author === author).map(({ id }) => id);
        byPerson.set(person, [...(byPerson.get(person) ?? []), ...own]);
      }
      for (const [personId, ids] of byPerson) {
        const since = new Date(Date.now() - together);
        const row = await manager.findOne(NoticeRow, {
          where: { ...about, actor: by, personId, mailedAt: IsNull(), at: MoreThan(since) },
          order: { at: 'DESC' },
        });
        const act = { [decision]: { verdict, changes: ids } };
        if (row) {
          await manager.update(NoticeRow, row.id, {
            facts: { decisions: { ...row.facts.decisions, ...act } },
            at: new Date(),
          });
          this.live.changedFor(personId, manuscript, 'post');
        } else
          await this.#tell(manager, [
            { person: personId, kind: 'decision', manuscript, by, facts: { decisions: act } },
          ]);
      }
    });
  }
}

/** What a person has chosen to be told. */
export async function choiceOf(manager: EntityManager, id: string): Promise<NoticeChoice> {
  const person = await manager.findOne(PersonRow, { where: { id: In([id]) }, select: { id: true, noticeKinds: true } });
  return { ...usualChoice, ...person?.noticeKinds };
}
