import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, Any } from 'typeorm';
import type { Mail, NoticeChoice, Post } from '@tea-pencil/wire';
import { NoticeRow, OutboxRow } from '../database/entities.js';
import { choiceOf, usualChoice } from './notices.js';
import { namesIn, noticesOf } from './read-notices.js';

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
    const which = { personId, ...(ids && { id: Any([...ids]) }) };
    await this.database.getRepository(NoticeRow).update(which, { readAt: read ? new Date() : null });
  }

  /** Chooses how some kinds come. The others stay, also those that another window chooses at the same moment. */
  async choose(personId: string, choice: Partial<NoticeChoice>): Promise<void> {
    await this.database.query(
      'UPDATE people SET notice_kinds = coalesce(notice_kinds, $2::jsonb) || $3::jsonb WHERE id = $1',
      [personId, JSON.stringify(usualChoice), JSON.stringify(choice)],
    );
  }

  /** The mail that would have been sent to a person, the newest first. */
  async mails(personId: string): Promise<Mail[]> {
    const outbox = this.database.getRepository(OutboxRow);
    const rows = await outbox.find({ where: { personId }, order: { at: 'DESC' }, take: 100 });
    return rows.map(({ id, recipient, subject, plain, at }) => ({
      id,
      recipient,
      subject,
      plain,
      at: at.toISOString(),
    }));
  }

  /** One of these. @throws NotFoundException for anyone else's */
  async mail(personId: string, id: string): Promise<OutboxRow> {
    const mail = await this.database.getRepository(OutboxRow).findOneBy({ id, personId });
    if (!mail) throw new NotFoundException('There is no such mail to you.');
    return mail;
  }
}
