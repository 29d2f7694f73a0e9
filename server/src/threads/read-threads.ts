import { Any, type EntityManager } from 'typeorm';
import { remarkOf, toDate, type Comment, type Thread } from '@tea-pencil/core';
import { CommentRow, ThreadRow } from '../database/entities.js';

/** Threads as they are kept, and as they are told. */

const dateOf = (at: Date | null) => (at ? toDate(at) : undefined);

function commentOf(row: CommentRow): Comment {
  const { id, author, body, madeAt, editedAt, deletedAt, queryTo, settledBy, settledAt, proposal } = row;
  const [edited, deleted, settled] = [dateOf(editedAt), dateOf(deletedAt), dateOf(settledAt)];
  const date = toDate(madeAt);
  // Of a deleted comment only this is told; its words are kept for the one who may take the deletion back.
  if (deleted) return { id, author, date, body: remarkOf(''), deleted };
  return {
    id,
    author,
    date,
    body,
    ...(edited && { edited }),
    ...(queryTo && { query: { to: queryTo, ...(settled && { settled: { by: settledBy!, date: settled } }) } }),
    ...(proposal && { proposal }),
  };
}

/** The comments of a thread that are told: deleted ones only where something that is not follows them. */
function told(rows: readonly CommentRow[]): Comment[] {
  const last = rows.findLastIndex(({ deletedAt }) => deletedAt === null);
  return rows.slice(0, last + 1).map(commentOf);
}

function threadOf(row: ThreadRow, comments: readonly CommentRow[]): Thread {
  const { id, author, changeId, aboutWhole, place, toSelf, tint, quote, begunAt, resolved, turnedBy, turnedAt } = row;
  return {
    id,
    author,
    date: toDate(begunAt),
    ...(changeId !== null && { change: changeId }),
    ...(aboutWhole && { whole: true }),
    ...(place && { place }),
    quote,
    ...(toSelf && { toSelf: true }),
    ...(tint && { tint }),
    resolved,
    ...(turnedBy && { turned: { by: turnedBy, date: toDate(turnedAt!) } }),
    comments: told(comments),
  };
}

/** The threads of a manuscript that a person may see, the oldest first; notes of others to themselves are not there. */
export async function readThreads(manager: EntityManager, manuscriptId: string, personId: string): Promise<Thread[]> {
  const rows = await manager.find(ThreadRow, {
    where: [
      { manuscriptId, toSelf: false },
      { manuscriptId, toSelf: true, author: personId },
    ],
    order: { begunAt: 'ASC', id: 'ASC' },
  });
  const comments = new Map<string, CommentRow[]>(rows.map(({ id }) => [id, []]));
  const found = await manager.find(CommentRow, {
    where: { threadId: Any([...comments.keys()]) },
    order: { madeAt: 'ASC', id: 'ASC' },
  });
  for (const comment of found) comments.get(comment.threadId)!.push(comment);
  const threads = rows.map((row) => threadOf(row, comments.get(row.id)!));
  return threads.filter(({ tint, comments: left }) => tint || left.length);
}

const moment = (date: string | undefined) => (date === undefined ? null : new Date(date));

/** Keeps threads that came in with a file or with the demo data. */
export async function keepThreads(
  manager: EntityManager,
  manuscriptId: string,
  threads: readonly Thread[],
): Promise<void> {
  for (const thread of threads) {
    await manager.insert(ThreadRow, {
      id: thread.id,
      manuscriptId,
      author: thread.author,
      changeId: thread.change ?? null,
      aboutWhole: thread.whole ?? false,
      place: thread.place ?? null,
      toSelf: thread.toSelf ?? false,
      tint: thread.tint ?? null,
      quote: thread.quote,
      begunAt: new Date(thread.date),
      resolved: thread.resolved,
      turnedBy: thread.turned?.by ?? null,
      turnedAt: moment(thread.turned?.date),
    });
    const rows = thread.comments.map((comment, nth) => ({
      id: comment.id,
      threadId: thread.id,
      author: comment.author,
      body: comment.body,
      // Of the same second, they stay in their order.
      madeAt: new Date(Date.parse(comment.date) + Math.min(nth, 999)),
      editedAt: moment(comment.edited),
      deletedAt: moment(comment.deleted),
      queryTo: comment.query?.to ?? null,
      settledBy: comment.query?.settled?.by ?? null,
      settledAt: moment(comment.query?.settled?.date),
      proposal: comment.proposal ?? null,
    }));
    if (rows.length) await manager.insert(CommentRow, rows);
  }
}
