import { queryOptions, useQuery } from '@tanstack/react-query';
import type { Loss, Thread } from '@tea-pencil/core';
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
export const useManuscript = (id: string) =>
  useQuery({ queryKey: ['manuscript', id], queryFn: () => request<ManuscriptInfo>('GET', `/manuscripts/${id}`) });
export const useThreads = (id: string) =>
  useQuery({ queryKey: ['threads', id], queryFn: () => request<Thread[]>('GET', `/manuscripts/${id}/threads`) });
