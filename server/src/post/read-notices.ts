import { Any, IsNull, type EntityManager } from 'typeorm';
import { mentionsIn } from '@tea-pencil/core';
import type { Notice } from '@tea-pencil/wire';
import { ChangeRow, CommentRow, ManuscriptRow, NoticeRow, PersonRow, ThreadRow } from '../database/entities.js';
import { pathOf, sentenceOf } from './letter.js';

/** Notices as they are told, with what they are about. */

/** So many of the newest are told. */
const most = 300;
/** Words of so many decided changes are told. */
const mostWords = 3;

/** The notices of one person that are about manuscripts they may still read. */
export async function noticesOf(manager: EntityManager, personId: string, only?: readonly string[]): Promise<Notice[]> {
  const memberships = await manager.query<{ id: string }[]>(
    `SELECT manuscript_id AS id FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
     WHERE person_id = $1 AND deleted_at IS NULL AND (until IS NULL OR until > now())`,
    [personId],
  );
  const rows = await manager.find(NoticeRow, {
    where: {
      personId,
      manuscriptId: Any(memberships.map(({ id }) => id)),
      ...(only && { id: Any([...only]) }),
    },
    order: { at: 'DESC', id: 'ASC' },
    take: most,
  });
  const ids = <K extends keyof NoticeRow>(name: K) => [...new Set(rows.map((row) => row[name]))] as string[];
  const by = <T extends { id: string }>(found: T[]) => new Map(found.map((one) => [one.id, one]));
  const manuscripts = by(await manager.findBy(ManuscriptRow, { id: Any(ids('manuscriptId')) }));
  const people = by(
    await manager.find(PersonRow, {
      where: { id: Any(ids('actor')) },
      select: { id: true, name: true, initials: true, portrait: true },
    }),
  );
  const threads = by(await manager.findBy(ThreadRow, { id: Any(ids('threadId')) }));
  const comments = by(await manager.findBy(CommentRow, { id: Any(ids('commentId')), deletedAt: IsNull() }));
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
            where: { manuscriptId: row.manuscriptId, changeId: Any(decided.slice(0, mostWords)) },
          })
        : [];
      const words = entries.flatMap(({ entry }) => (entry ? [entry.after || entry.before] : []));
      const told = {
        id,
        kind,
        at: at.toISOString(),
        read: readAt !== null,
        manuscript: { id: row.manuscriptId, title: manuscripts.get(row.manuscriptId)!.title },
        actor: people.get(row.actor)!,
        ...(thread && { thread: { id: thread.id, quote: thread.quote, resolved: thread.resolved } }),
        ...(comment && { comment: { id: comment.id, body: comment.body } }),
        ...(decided.length && { decided: { accepted: count('accept'), rejected: count('reject'), words } }),
        ...(facts.role && { role: facts.role }),
        ...(facts.message && { message: facts.message }),
        ...(facts.sealed !== undefined && { sealed: facts.sealed }),
      };
      return { ...told, says: sentenceOf(told), path: pathOf(told) };
    }),
  );
}

/** The names of everyone who is mentioned in what is said. */
export async function namesIn(manager: EntityManager, notices: readonly Notice[]): Promise<Map<string, string>> {
  const ids = new Set(notices.flatMap(({ comment }) => (comment ? mentionsIn(comment.body) : [])));
  const people = await manager.find(PersonRow, { where: { id: Any([...ids]) }, select: { id: true, name: true } });
  return new Map(people.map(({ id, name }) => [id, name]));
}
