import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { DataSource, Any, IsNull, MoreThan, type EntityManager } from 'typeorm';
import { mentionsIn, type Remark } from '@tea-pencil/core';
import type { NoticeChoice, NoticeKind, Role } from '@tea-pencil/wire';
import { CommentRow, MemberRow, NamedPersonRow, NoticeRow, PersonRow, type NoticeFacts } from '../database/entities.js';
import { Decisions, type Decided } from '../decisions/decisions.service.js';
import { Broadcasting } from '../live/broadcasting.js';
import { wentWrong } from '../running/log.js';

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
  seal: 'post',
};

/** Decisions by one person within this time make one notice, in milliseconds. */
const together = 30 * 60_000;

/** Somebody who has post about a manuscript. */
export interface Addressee {
  person: string;
  manuscript: string;
}

/**
 * Tells people what others did that concerns them. Nobody is told of what they did themselves. A notice is kept in the
 * transaction of what it is about; that there is post is announced by whoever made the transaction, once it is committed.
 */
@Injectable()
export class Notices implements OnModuleInit {
  readonly #logger = new Logger('Notices');

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly decisions: Decisions,
    private readonly live: Broadcasting,
  ) {}

  onModuleInit(): void {
    this.decisions.events.on('decided', (decided) => {
      this.#decided(decided).catch((problem: unknown) =>
        this.#logger.warn(wentWrong('no notice of a decision', problem)),
      );
    });
  }

  /** Tells people who are here that they have post; only of what is committed. */
  announce(addressees: readonly Addressee[]): void {
    for (const { person, manuscript } of addressees) this.live.changedFor(person, manuscript, 'post');
  }

  /** A comment in a thread that others see: for who is asked, who is mentioned, and who has spoken there before. */
  async comment(
    manager: EntityManager,
    said: Omit<Said, 'comment'> & { comment: { id: string; body: Remark; queryTo: string | null } },
  ): Promise<Addressee[]> {
    const { manuscript, by, thread, comment } = said;
    const earlier = await manager.findBy(CommentRow, { threadId: thread, deletedAt: IsNull() });
    const kinds = new Map<string, NoticeKind>(earlier.map(({ author }) => [author, 'reply' as const]));
    for (const person of mentionsIn(comment.body)) kinds.set(person, 'mention');
    if (comment.queryTo) kinds.set(comment.queryTo, 'query');
    const about = { manuscript, by, thread, comment: comment.id };
    return this.#keep(
      manager,
      [...kinds].map(([person, kind]) => ({ person, kind, ...about })),
    );
  }

  /** People who are mentioned in a comment that was changed. */
  mentioned(manager: EntityManager, said: Said, people: readonly string[]): Promise<Addressee[]> {
    return this.#keep(
      manager,
      people.map((person) => ({ person, kind: 'mention' as const, ...said })),
    );
  }

  /** A comment was deleted: who has not read of it need not. */
  async withdrawn(manager: EntityManager, commentId: string): Promise<void> {
    await manager.delete(NoticeRow, { commentId, readAt: IsNull() });
  }

  /** Someone was given a role in a manuscript that they had no part in. */
  invited(manuscript: string, by: string, person: string, role: Role, message: string): Promise<Addressee[]> {
    const facts = { role, ...(message && { message }) };
    return this.#keep(this.database.manager, [{ person, kind: 'invitation', manuscript, by, facts }]);
  }

  /** A seal was put on a manuscript, or lifted: for all its people. */
  async sealed(manager: EntityManager, manuscript: string, by: string, sealed: boolean): Promise<Addressee[]> {
    const members = await manager.findBy(MemberRow, { manuscriptId: manuscript });
    return this.#keep(
      manager,
      members.map(({ personId: person }) => ({ person, kind: 'seal' as const, manuscript, by, facts: { sealed } })),
    );
  }

  /** Who an author is among the people with accounts. */
  async #accountOf(manager: EntityManager, manuscriptId: string, author: string): Promise<string> {
    const named = await manager.findOneBy(NamedPersonRow, { manuscriptId, personId: author });
    return named?.matchedTo ?? author;
  }

  async #keep(manager: EntityManager, notices: readonly NewNotice[]): Promise<Addressee[]> {
    const kept: Addressee[] = [];
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
      kept.push({ person, manuscript });
    }
    return kept;
  }

  /** Decisions on somebody's changes: those of one person that follow one another make one notice. */
  async #decided(decided: Decided): Promise<void> {
    const { manuscript, by, takenBack } = decided;
    const addressees = await this.database.transaction(async (manager) => {
      // One after the other, so that two decisions in a row do not make two notices.
      await manager.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`notices ${manuscript} ${by}`]);
      return takenBack ? this.#undecided(manager, decided) : this.#addDecision(manager, decided);
    });
    this.announce(addressees);
  }

  /** A decision that was taken back leaves the notices that tell of it. */
  async #undecided(manager: EntityManager, { manuscript, decision }: Decided): Promise<Addressee[]> {
    const told: Addressee[] = [];
    const about = { manuscriptId: manuscript, kind: 'decision' as const, readAt: IsNull() };
    for (const row of await manager.findBy(NoticeRow, about)) {
      const { [decision]: gone, ...left } = row.facts.decisions ?? {};
      if (!gone) continue;
      if (Object.keys(left).length) await manager.update(NoticeRow, row.id, { facts: { decisions: left } });
      else await manager.delete(NoticeRow, row.id);
      told.push({ person: row.personId, manuscript });
    }
    return told;
  }

  async #addDecision(manager: EntityManager, decided: Decided): Promise<Addressee[]> {
    const { manuscript, decision, by, verdict, changes } = decided;
    const byPerson = new Map<string, string[]>();
    for (const author of new Set(changes.map((change) => change.author))) {
      const person = await this.#accountOf(manager, manuscript, author);
      const own = changes.filter((change) => change.author === author).map(({ id }) => id);
      byPerson.set(person, [...(byPerson.get(person) ?? []), ...own]);
    }
    const told: Addressee[] = [];
    const since = new Date(Date.now() - together);
    for (const [personId, ids] of byPerson) {
      const about = { manuscriptId: manuscript, kind: 'decision' as const, readAt: IsNull(), claimedAt: IsNull() };
      const row = await manager.findOne(NoticeRow, {
        where: { ...about, actor: by, personId, mailedAt: IsNull(), at: MoreThan(since) },
        order: { at: 'DESC' },
      });
      const act = { [decision]: { verdict, changes: ids } };
      if (row) {
        const facts = { decisions: { ...row.facts.decisions, ...act } };
        await manager.update(NoticeRow, row.id, { facts, at: new Date() });
        told.push({ person: personId, manuscript });
      } else {
        const fresh = { person: personId, kind: 'decision' as const, manuscript, by, facts: { decisions: act } };
        for (const addressee of await this.#keep(manager, [fresh])) told.push(addressee);
      }
    }
    return told;
  }
}

/** What a person has chosen to be told. */
export async function choiceOf(manager: EntityManager, id: string): Promise<NoticeChoice> {
  const person = await manager.findOne(PersonRow, {
    where: { id: Any([id]) },
    select: { id: true, noticeKinds: true },
  });
  return { ...usualChoice, ...person?.noticeKinds };
}
