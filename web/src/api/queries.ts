import { keys } from './keys';
import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query';
import type { Thread } from '@tea-pencil/core';
import type {
  Account,
  Colleague as Known,
  DeletedLine,
  DemoPerson,
  DeskLine,
  Door,
  FoundLine,
  Group,
  HereNow,
  House,
  LastDecision,
  Ledger,
  ManuscriptInfo as Info,
  Outbox,
  Post,
  Rights,
  Role,
  Self,
  SessionOf,
  Sharing,
} from '@tea-pencil/wire';
import { request } from './client';

/** How often one asks for what no live connection tells of, in milliseconds. */
const askAgain = 20_000;

export const roles: Role[] = ['reader', 'remarker', 'proposer', 'decider', 'keeper'];
export const roleWords: Record<Role, string> = {
  reader: 'may read',
  remarker: 'may remark',
  proposer: 'may propose',
  decider: 'may decide',
  keeper: 'keeper',
};
/** What somebody may do, as a sentence says it. */
export const rightsWords = ({ role, takesAway, invites }: Rights): string =>
  [roleWords[role], !takesAway && 'may not take away', invites && role !== 'keeper' && 'may invite']
    .filter(Boolean)
    .join(', ');
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
  useQuery({ queryKey: keys.demoPeople, queryFn: () => request<DemoPerson[]>('GET', '/demo-people') });
export const useDoor = () => useQuery({ queryKey: keys.door, queryFn: () => request<Door>('GET', '/door') });
export const useDesk = () =>
  useQuery({ queryKey: keys.desk, queryFn: () => request<DeskLine[]>('GET', '/manuscripts') });
/** Who has one’s manuscripts open; asked again and again while the desk is looked at. */
export const useHere = () =>
  useQuery({
    queryKey: keys.here,
    queryFn: () => request<HereNow>('GET', '/manuscripts/here'),
    refetchInterval: askAgain,
  });
export const useFound = (words: string) =>
  useQuery({
    queryKey: keys.found(words),
    queryFn: () => request<FoundLine[]>('GET', `/manuscripts/found?words=${encodeURIComponent(words)}`),
    enabled: !!words,
    placeholderData: keepPreviousData,
  });
export const useDeleted = () =>
  useQuery({ queryKey: keys.deleted, queryFn: () => request<DeletedLine[]>('GET', '/deleted') });
/** People with whom one has a manuscript. */
export const useKnown = () => useQuery({ queryKey: keys.known, queryFn: () => request<Account[]>('GET', '/people') });
export const useGroups = () => useQuery({ queryKey: keys.groups, queryFn: () => request<Group[]>('GET', '/groups') });
export const useHouse = () => useQuery({ queryKey: keys.house, queryFn: () => request<House>('GET', '/house') });
export const useSessions = () =>
  useQuery({ queryKey: keys.sessions, queryFn: () => request<SessionOf[]>('GET', '/me/sessions') });
export const useSharing = (id: string) =>
  useQuery({ queryKey: keys.sharing(id), queryFn: () => request<Sharing>('GET', `/manuscripts/${id}/sharing`) });
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
