import { keys } from './keys';
import { queryOptions, useQuery } from '@tanstack/react-query';
import type { Thread } from '@tea-pencil/core';
import type {
  Account,
  Colleague as Known,
  DeskLine,
  LastDecision,
  Ledger,
  ManuscriptInfo as Info,
  Outbox,
  Post,
  Role,
  Self,
} from '@tea-pencil/wire';
import { request } from './client';

export const roles: Role[] = ['reader', 'remarker', 'proposer', 'decider', 'keeper'];
export const roleWords: Record<Role, string> = {
  reader: 'may read',
  remarker: 'may remark',
  proposer: 'may propose',
  decider: 'may decide',
  keeper: 'keeper',
};
export const mayAtLeast = (role: Role, least: Role): boolean => roles.indexOf(role) >= roles.indexOf(least);

/** Someone a manuscript knows, as they look here: somebody a file names looks like who they are. */
export interface Colleague extends Known {
  /** The id under which all that a person wrote is brought together: their own, or that of whom they are. */
  is: string;
  /** How a file calls them, whoever they are. */
  calledInFile: string;
}
export interface ManuscriptInfo extends Omit<Info, 'people'> {
  people: Colleague[];
}

export const meQuery = queryOptions({
  queryKey: keys.me,
  queryFn: async () => (await request<{ me: Self | null }>('GET', '/me')).me,
});
export const useMe = () => useQuery(meQuery);
export const useDemoPeople = () =>
  useQuery({ queryKey: keys.demoPeople, queryFn: () => request<Account[]>('GET', '/demo-people') });
export const useDesk = () =>
  useQuery({ queryKey: keys.desk, queryFn: () => request<DeskLine[]>('GET', '/manuscripts') });
export const useAccounts = () =>
  useQuery({ queryKey: keys.accounts, queryFn: () => request<Account[]>('GET', '/people') });
/** Someone a file names looks like who they are. */
function known({ people, ...info }: Info): ManuscriptInfo {
  return {
    ...info,
    people: people.map((person) => {
      const { initials, hue, portrait, id, ...is } = people.find((one) => one.id === person.matchedTo) ?? person;
      const name = is.looksLikeMember ? `${is.name} (from the file)` : is.name;
      return { ...person, name, initials, hue, portrait, is: id, calledInFile: person.name };
    }),
  };
}

/** Whose words are somebody's: the id under which all a person wrote is brought together. */
export const whoIs = ({ people }: Pick<ManuscriptInfo, 'people'>, id: string): string =>
  people.find((person) => person.id === id)?.is ?? id;

export const useManuscript = (id: string) =>
  useQuery({
    queryKey: keys.manuscript(id),
    queryFn: () => request<Info>('GET', `/manuscripts/${id}`),
    select: known,
  });
export const useThreads = (id: string) =>
  useQuery({ queryKey: keys.threads(id), queryFn: () => request<Thread[]>('GET', `/manuscripts/${id}/threads`) });
/** How often one asks for new post where no live connection tells of it, in milliseconds. */
const askAgain = 20_000;
export const usePost = () =>
  useQuery({ queryKey: keys.post, queryFn: () => request<Post>('GET', '/post'), refetchInterval: askAgain });
export const useOutbox = () =>
  useQuery({ queryKey: keys.outbox, queryFn: () => request<Outbox>('GET', '/outbox'), refetchInterval: askAgain });
export const useLedger = (id: string) =>
  useQuery({ queryKey: keys.ledger(id), queryFn: () => request<Ledger>('GET', `/manuscripts/${id}/ledger`) });
/** One's own last decision that stands. */
export const useLastDecision = (id: string) =>
  useQuery({
    queryKey: [...keys.ledger(id), 'last'],
    queryFn: async () => (await request<{ last: LastDecision | null }>('GET', `/manuscripts/${id}/ledger/last`)).last,
  });
