import type { Comment, Thread } from '../manuscript/threads.js';
import type { PersonId } from '../manuscript/people.js';
import { mentionsIn } from './remark.js';

/** Who asks whom, and who still owes an answer. */

/** A comment that asks someone for an answer. */
type Asking = Comment & Required<Pick<Comment, 'query'>>;
const isAsking = (comment: Comment): comment is Asking => !!comment.query;

/** The comments of a thread that wait for an answer. */
export const openQueries = ({ resolved, comments }: Thread): Asking[] =>
  resolved ? [] : comments.filter(isAsking).filter(({ query, deleted }) => !query.settled && !deleted);

/** How many answers each person owes. */
export function answersOwed(threads: readonly Thread[]): Map<PersonId, number> {
  const owed = new Map<PersonId, number>();
  for (const { query } of threads.flatMap(openQueries)) owed.set(query.to, (owed.get(query.to) ?? 0) + 1);
  return owed;
}

/** Whether someone is asked or mentioned in a thread. */
export const names = (thread: Thread, person: PersonId): boolean =>
  thread.comments.some(
    ({ body, query, deleted }) => !deleted && (query?.to === person || mentionsIn(body).includes(person)),
  );
