import { BadRequestException } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { overTalk, type TalkSize } from '@tea-pencil/core';

/** What one more comes to. */
interface More {
  threads?: number;
  comments?: number;
  letters: number;
}

/**
 * Goes on only where as much more may be said about a manuscript by somebody.
 * @throws BadRequestException that says how much that is
 */
export async function roomToTalk(
  manager: EntityManager,
  manuscript: string,
  me: string,
  { threads = 0, comments = 0, letters }: More,
): Promise<void> {
  const [said] = await manager.query<[TalkSize]>(
    `SELECT count(DISTINCT threads.id)::int AS threads, count(told.id)::int AS comments,
       coalesce(sum(told.letters), 0)::float8 AS letters,
       (count(told.id) FILTER (WHERE told.author = $2))::int AS "commentsOfOne",
       coalesce(sum(told.letters) FILTER (WHERE told.author = $2), 0)::float8 AS "lettersOfOne"
     FROM threads LEFT JOIN (
       SELECT id, thread_id, author, length(body::text) + coalesce(length(proposal::text), 0) AS letters FROM comments
     ) AS told ON told.thread_id = threads.id
     WHERE threads.manuscript_id = $1`,
    [manuscript, me],
  );
  const over = overTalk({
    threads: said.threads + threads,
    comments: said.comments + comments,
    letters: said.letters + letters,
    commentsOfOne: said.commentsOfOne + comments,
    lettersOfOne: said.lettersOfOne + letters,
  });
  if (over) throw new BadRequestException(`This is too much: ${over}.`);
}
