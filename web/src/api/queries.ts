import { queryOptions, useQuery } from '@tanstack/react-query';
import type { Loss, Remark, Thread } from '@tea-pencil/core';
import type { LedgerData } from '../ledger/rows';
import { request } from './client';

export type Role = 'reader' | 'remarker' | 'proposer' | 'decider' | 'keeper';
export const roles: Role[] = ['reader', 'remarker', 'proposer', 'decider', 'keeper'];
export const roleWords: Record<Role, string> = {
  reader: 'may read',
  remarker: 'may remark',
  proposer: 'may propose',
  decider: 'may decide',
  keeper: 'keeper',
};
export const mayAtLeast = (role: Role, least: Role): boolean => roles.indexOf(role) >= roles.indexOf(least);

export interface Account {
  id: string;
  name: string;
  initials: string;
  login: string | null;
  note: string | null;
  /** Names the picture they have set, if they have set one. */
  portrait: string | null;
}
/** Oneself. */
export interface Self extends Account {
  /** Where mail goes. */
  mail: string | null;
}
export interface Colleague extends Account {
  role: Role | null;
  hue: number;
  /** Who of the manuscript's people someone is whom a file names, as a keeper has said. */
  matchedTo: string | null;
  /** Whether a keeper has been asked who this is. */
  asked: boolean;
  /** The id under which all that a person wrote is brought together: their own, or that of whom they are. */
  is: string;
  /** How a file calls them, whoever they are. */
  calledInFile: string;
}
export interface DeskEntry {
  id: string;
  title: string;
  note: string;
  role: Role;
  pending: number;
  openThreads: number;
  /** How many answers each person owes. */
  owed: { person: string; name: string; answers: number }[];
  spine: { at: number; hue: number }[];
  touchedAt: string;
  touchedBy: string;
  touchedByName: string;
}
export interface ManuscriptInfo {
  id: string;
  title: string;
  note: string;
  role: Role;
  everyoneInPencil: boolean;
  losses: Loss[];
  /** What the server had to mend in a text that had come to harm. */
  mends: Loss[];
  people: Colleague[];
}

export const meQuery = queryOptions({
  queryKey: ['me'],
  queryFn: async () => (await request<{ me: Self | null }>('GET', '/me')).me,
});
export const useMe = () => useQuery(meQuery);
export const useDemoPeople = () =>
  useQuery({ queryKey: ['demo-people'], queryFn: () => request<Account[]>('GET', '/demo-people') });
export const useDesk = () =>
  useQuery({ queryKey: ['desk'], queryFn: () => request<DeskEntry[]>('GET', '/manuscripts') });
export const useAccounts = () =>
  useQuery({ queryKey: ['people'], queryFn: () => request<Account[]>('GET', '/people') });
/** Someone a file names looks like who they are. */
function known({ people, ...info }: ManuscriptInfo): ManuscriptInfo {
  return {
    ...info,
    people: people.map((person) => {
      const { name, initials, hue, portrait, id } = people.find((one) => one.id === person.matchedTo) ?? person;
      return { ...person, name, initials, hue, portrait, is: id, calledInFile: person.name };
    }),
  };
}

/** Whose words are somebody's: the id under which all a person wrote is brought together. */
export const whoIs = ({ people }: Pick<ManuscriptInfo, 'people'>, id: string): string =>
  people.find((person) => person.id === id)?.is ?? id;

export const useManuscript = (id: string) =>
  useQuery({
    queryKey: ['manuscript', id],
    queryFn: () => request<ManuscriptInfo>('GET', `/manuscripts/${id}`),
    select: known,
  });
export const useThreads = (id: string) =>
  useQuery({ queryKey: ['threads', id], queryFn: () => request<Thread[]>('GET', `/manuscripts/${id}/threads`) });
export type NoticeKind = 'mention' | 'query' | 'reply' | 'decision' | 'invitation';
export type NoticeWay = 'nothing' | 'post' | 'mail';
export interface Notice {
  id: string;
  kind: NoticeKind;
  says: string;
  /** Where it leads. */
  path: string;
  at: string;
  read: boolean;
  manuscript: { id: string; title: string };
  actor: Pick<Account, 'id' | 'name' | 'initials' | 'portrait'>;
  comment?: { id: string; body: Remark };
  decided?: { accepted: number; rejected: number; words: string[] };
}
export interface Post {
  unread: number;
  notices: Notice[];
  choice: Record<NoticeKind, NoticeWay>;
  names: Record<string, string>;
}
/** How often one asks for new post where no live connection tells of it, in milliseconds. */
const askAgain = 20_000;
export const usePost = () =>
  useQuery({ queryKey: ['post'], queryFn: () => request<Post>('GET', '/post'), refetchInterval: askAgain });
export interface Outbox {
  standsIn: boolean;
  mails: { id: string; recipient: string; subject: string; plain: string; at: string }[];
}
export const useOutbox = () =>
  useQuery({ queryKey: ['outbox'], queryFn: () => request<Outbox>('GET', '/outbox'), refetchInterval: askAgain });
export const useLedger = (id: string) =>
  useQuery({ queryKey: ['ledger', id], queryFn: () => request<LedgerData>('GET', `/manuscripts/${id}/ledger`) });
