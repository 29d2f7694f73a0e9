import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import { toDate, type Thread } from '@tea-pencil/core';
import { ChangeRow, CommentRow, ThreadRow } from '../database/entities.js';

const isTaken = (problem: unknown) => (problem as { code?: string }).code === '23505';

@Injectable()
export class ThreadsService {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** All threads of a manuscript, the oldest first, with their comments. */
  async list(manuscriptId: string): Promise<Thread[]> {
    const threads = await this.database
      .getRepository(ThreadRow)
      .find({ where: { manuscriptId }, order: { begunAt: 'ASC', id: 'ASC' } });
    const ids = threads.map(({ id }) => id);
    const comments = await this.database
      .getRepository(CommentRow)
      .find({ where: { threadId: In(ids) }, order: { madeAt: 'ASC', id: 'ASC' } });
    return threads.map(({ id, changeId, quote, resolvedAt }) => ({
      id,
      ...(changeId !== null && { change: changeId }),
      quote,
      resolved: resolvedAt !== null,
      comments: comments
        .filter(({ threadId }) => threadId === id)
        .map(({ id: comment, author, text, madeAt }) => ({ id: comment, author, text, date: toDate(madeAt) })),
    }));
  }

  async begin(
    manuscriptId: string,
    author: string,
    thread: { id: string; comment: string; change?: string; quote: string; text: string },
  ): Promise<void> {
    const { change: changeId = null } = thread;
    if (changeId !== null && !(await this.database.getRepository(ChangeRow).existsBy({ manuscriptId, changeId })))
      throw new NotFoundException('There is no such change in this manuscript.');
    try {
      await this.database.transaction(async (manager) => {
        await manager.insert(ThreadRow, { id: thread.id, manuscriptId, changeId, quote: thread.quote });
        await manager.insert(CommentRow, { id: thread.comment, threadId: thread.id, author, text: thread.text });
      });
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException('This comment has been kept already.');
      throw problem;
    }
  }

  async reply(
    manuscriptId: string,
    threadId: string,
    author: string,
    comment: { id: string; text: string },
  ): Promise<void> {
    await this.#find(manuscriptId, threadId);
    try {
      await this.database.getRepository(CommentRow).insert({ id: comment.id, threadId, author, text: comment.text });
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException('This comment has been kept already.');
      throw problem;
    }
  }

  async setResolved(manuscriptId: string, threadId: string, by: string, resolved: boolean): Promise<void> {
    await this.#find(manuscriptId, threadId);
    await this.database
      .getRepository(ThreadRow)
      .update(threadId, resolved ? { resolvedBy: by, resolvedAt: new Date() } : { resolvedBy: null, resolvedAt: null });
  }

  /** Keeps threads that came in with a file or with the demo data. */
  async add(manager: EntityManager, manuscriptId: string, threads: readonly Thread[], by: string): Promise<void> {
    for (const { id, change: changeId = null, quote, resolved, comments } of threads) {
      const begunAt = new Date(comments[0]?.date ?? Date.now());
      const end = resolved
        ? { resolvedBy: by, resolvedAt: new Date(comments[comments.length - 1]?.date ?? Date.now()) }
        : {};
      await manager.insert(ThreadRow, { id, manuscriptId, changeId, quote, begunAt, ...end });
      for (const comment of comments) {
        await manager.insert(CommentRow, {
          id: comment.id,
          threadId: id,
          author: comment.author,
          text: comment.text,
          madeAt: new Date(comment.date),
        });
      }
    }
  }

  async #find(manuscriptId: string, id: string): Promise<ThreadRow> {
    const thread = await this.database.getRepository(ThreadRow).findOneBy({ id, manuscriptId });
    if (!thread) throw new NotFoundException('There is no such thread in this manuscript.');
    return thread;
  }
}
