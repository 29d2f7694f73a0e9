import { names, openQueries, remarkText, type Thread } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';

/** What the list of threads shows. */

export type State = 'open' | 'resolved' | 'all';
export type About = 'all' | 'queries' | 'owedByMe' | 'naming' | 'toSelf';

export interface Filter {
  state: State;
  about: About;
  author: string | null;
  sought: string;
}

export const plainFilter: Filter = { state: 'open', about: 'all', author: null, sought: '' };

export const abouts: [about: About, label: string, explanation: string][] = [
  ['all', 'all', 'Every thread'],
  ['queries', 'queries', 'Where someone still owes an answer'],
  ['owedByMe', 'queries to me', 'Where an answer of mine is waited for'],
  ['naming', 'mentioning me', 'Where I am mentioned or asked'],
  ['toSelf', 'to myself', 'My own notes, which nobody else sees'],
];

const isAbout: Record<About, (thread: Thread, info: ManuscriptInfo, me: string) => boolean> = {
  all: () => true,
  queries: (thread) => openQueries(thread).length > 0,
  owedByMe: (thread, info, me) => openQueries(thread).some(({ query }) => whoIs(info, query.to) === me),
  naming: (thread, _, me) => names(thread, me),
  toSelf: ({ toSelf }) => !!toSelf,
};

/** Every word of a thread that can be looked for. */
const wordsIn = ({ quote, comments }: Thread, nameOf: (id: string) => string) =>
  [
    quote,
    ...comments.map(
      ({ author, body, proposal }) => `${nameOf(author)} ${remarkText(body, nameOf)} ${proposal?.words ?? ''}`,
    ),
  ]
    .join('\n')
    .toLocaleLowerCase();

export function filtered(
  threads: readonly Thread[],
  { state, about, author, sought }: Filter,
  info: ManuscriptInfo,
  me: string,
): Thread[] {
  const nameOf = (id: string) => info.people.find((person) => person.id === id)?.name ?? '';
  const words = sought.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return threads.filter((thread) => {
    if (state !== 'all' && thread.resolved !== (state === 'resolved')) return false;
    if (!isAbout[about](thread, info, me)) return false;
    if (author && ![thread, ...thread.comments].some((said) => whoIs(info, said.author) === author)) return false;
    if (!words.length) return true;
    const all = wordsIn(thread, nameOf);
    return words.every((word) => all.includes(word));
  });
}
