import type { PersonId } from '../../manuscript/people.js';
import type { Comment } from '../../manuscript/threads.js';

/** What only we know of a comment, in words for other programs; we leave these paragraphs out when we read them. */
export function asides(
  { query, proposal, deleted }: Pick<Comment, 'query' | 'proposal' | 'deleted'>,
  nameOf: (id: PersonId) => string,
): string[] {
  return [
    ...(deleted ? ['(This comment was deleted.)'] : []),
    ...(query ? [`(Asks ${nameOf(query.to)} for an answer${query.settled ? '; answered' : ''}.)`] : []),
    ...(proposal ? [`Proposed wording: ${proposal.words || '(none)'}`] : []),
  ];
}
