import { queryOptions, useQuery } from '@tanstack/react-query';
import type { Loss, Thread } from '@tea-pencil/core';
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
  queryFn: async () => (await request<{ me: Account | null }>('GET', '/me')).me,
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
      const { name, initials, hue, id } = people.find((one) => one.id === person.matchedTo) ?? person;
      return { ...person, name, initials, hue, is: id, calledInFile: person.name };
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
export const useLedger = (id: string) =>
  useQuery({ queryKey: ['ledger', id], queryFn: () => request<LedgerData>('GET', `/manuscripts/${id}/ledger`) });
