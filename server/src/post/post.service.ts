import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, IsNull, type EntityManager } from 'typeorm';
import { mentionsIn, type Remark } from '@tea-pencil/core';
import {
  ChangeRow,
  CommentRow,
  ManuscriptRow,
  MemberRow,
  NoticeRow,
  OutboxRow,
  PersonRow,
  ThreadRow,
} from '../database/entities.js';
import type { Role } from '../database/roles.js';
import type { NoticeChoice, NoticeKind } from './kinds.js';
import { pathOf, sentenceOf } from './letter.js';
import { choiceOf } from './notices.js';

/** A notice as it is told, with what it is about. */
export interface Notice {
  id: string;
  kind: NoticeKind;
  /** What happened, in one sentence, and where in the pages it leads. */
  says: string;
  path: string;
  at: Date;
  read: boolean;
  manuscript: { id: string; title: string };
  actor: { id: string; name: string; initials: string; portrait: string | null };
  thread?: { id: string; quote: string; resolved: boolean };
  comment?: { id: string; body: Remark };
  /** Of decisions, by how many changes were accepted and rejected, and one of them. */
  decided?: { accepted: number; rejected: number; words: string[] };
  role?: Role;
}

export interface Post {
  unread: number;
  notices: Notice[];
  choice: NoticeChoice;
  /** Everyone who is mentioned in what is said. */
  names: Record<string, string>;
}

/** So many of the newest are told. */
const most = 300;
/** Words of so many decided changes are told. */
const mostWords = 3;

/** The notices of one person that are about manuscripts they may still read. */
export async function noticesOf(manager: EntityManager, personId: string, only?: readonly string[]): Promise<Notice[]> {
  const memberships = await manager.findBy(MemberRow, { personId });
  const rows = await manager.find(NoticeRow, {
    where: {
      personId,
      manuscriptId: In(memberships.map(({ manuscriptId }) => manuscriptId)),
      ...(only && { id: In([...only]) }),
    },
    order: { at: 'DESC', id: 'ASC' },
    take: most,
  });
  const ids = <K extends keyof NoticeRow>(name: K) => [...new Set(rows.map((row) => row[name]))] as string[];
  const by = <T extends { id: string }>(found: T[]) => new Map(found.map((one) => [one.id, one]));
  const manuscripts = by(await manager.findBy(ManuscriptRow, { id: In(ids('manuscriptId')) }));
  const people = by(
    await manager.find(PersonRow, {
      where: { id: In(ids('actor')) },
      select: { id: true, name: true, initials: true, portrait: true },
    }),
  );
  const threads = by(await manager.findBy(ThreadRow, { id: In(ids('threadId')) }));
  const comments = by(await manager.findBy(CommentRow, { id: In(ids('commentId')), deletedAt: IsNull() }));
  return Promise.all(
    rows.map(async (row): Promise<Notice> => {
      const { id, kind, at, readAt, facts } = row;
      const thread = threads.get(row.threadId ?? '');
      const comment = comments.get(row.commentId ?? '');
      const decisions = Object.values(facts.decisions ?? {});
      const count = (verdict: string) =>
        decisions.filter((one) => one.verdict === verdict).reduce((sum, { changes }) => sum + changes.length, 0);
      const decided = decisions.flatMap(({ changes }) => changes);
      const entries = decided.length
        ? await manager.find(ChangeRow, {
            where: { manuscriptId: row.manuscriptId, changeId: In(decided.slice(0, mostWords)) },
          })
        : [];
      const words = entries.flatMap(({ entry }) => (entry ? [entry.after || entry.before] : []));
      const told = {
        id,
        kind,
        at,
        read: readAt !== null,
        manuscript: { id: row.manuscriptId, title: manuscripts.get(row.manuscriptId)!.title },
        actor: people.get(row.actor)!,
        ...(thread && { thread: { id: thread.id, quote: thread.quote, resolved: thread.resolved } }),
        ...(comment && { comment: { id: comment.id, body: comment.body } }),
        ...(decided.length && { decided: { accepted: count('accept'), rejected: count('reject'), words } }),
        ...(facts.role && { role: facts.role }),
      };
      return { ...told, says: sentenceOf(told), path: pathOf(told) };
    }),
  );
}

/** The names of everyone who is mentioned in what is said. */
export async function namesIn(manager: EntityManager, notices: readonly Notice[]): Promise<Map<string, string>> {
  const ids = new Set(notices.flatMap(({ comment }) => (comment ? mentionsIn(comment.body) : [])));
  const people = await manager.find(PersonRow, { where: { id: In([...ids]) }, select: { id: true, name: true } });
  return new Map(people.map(({ id, name }) => [id, name]));
}

/** What others did that concerns a person, and the mail about it. */
@Injectable()
export class PostService {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  async list(me: string): Promise<Post> {
    const { manager } = this.database;
    const notices = await noticesOf(manager, me);
    return {
      notices,
      unread: notices.filter(({ read }) => !read).length,
      choice: await choiceOf(manager, me),
      names: Object.fromEntries(await namesIn(manager, notices)),
    };
  }

  /** Marks notices as read, or as not read yet; all of them where none are named. */
  async mark(personId: string, ids: readonly string[] | undefined, read: boolean): Promise<void> {
    const which = { personId, ...(ids && { id: In([...ids]) }) };
    await this.database.getRepository(NoticeRow).update(which, { readAt: read ? new Date() : null });
  }

  async choose(personId: string, choice: NoticeChoice): Promise<void> {
    await this.database.getRepository(PersonRow).update(personId, { noticeKinds: choice });
  }

  /** The mail that would have been sent to a person, the newest first. */
  mails(personId: string): Promise<OutboxRow[]> {
    return this.database.getRepository(OutboxRow).find({ where: { personId }, order: { at: 'DESC' }, take: 100 });
  }

  /** One of these. @throws NotFoundException for anyone else's */
  async mail(personId: string, id: string): Promise<OutboxRow> {
    const mail = await this.database.getRepository(OutboxRow).findOneBy({ id, personId });
    if (!mail) throw new NotFoundException('There is no such mail to you.');
    return mail;
  }
}
