import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Drafts, InkPiece, Moment, SideBySide, TimeLine } from '@tea-pencil/wire';
import { request } from './client';
import { keys } from './keys';

/** What the server tells of earlier states of a manuscript. */

export type BesideReading = 'fair' | 'before';

export const useDrafts = (id: string) =>
  useQuery({
    queryKey: keys.drafts(id),
    queryFn: () => request<Drafts>('GET', `/manuscripts/${id}/drafts`),
    // What is not counted yet will be in a moment; and the text goes on meanwhile.
    refetchInterval: ({ state }) => (state.data?.drafts.some(({ facts }) => !facts) ? 1500 : 15_000),
  });

export const useTimeLine = (id: string) =>
  useQuery({ queryKey: keys.timeLine(id), queryFn: () => request<TimeLine>('GET', `/manuscripts/${id}/time-line`) });

export const momentAt = (id: string, version: number, go: 'here' | 'earlier' | 'later' = 'here') =>
  request<Moment>('GET', `/manuscripts/${id}/moments/${version}?go=${go}`);

export const useMoment = (id: string, version: number) =>
  useQuery({ queryKey: keys.moment(id, version), queryFn: () => momentAt(id, version) });

export const useBeside = (id: string, before: number, after: number, reading: BesideReading) =>
  useQuery({
    queryKey: keys.beside(id, before, after, reading),
    queryFn: () =>
      request<SideBySide>('GET', `/manuscripts/${id}/beside?before=${before}&after=${after}&reading=${reading}`),
    placeholderData: keepPreviousData,
    staleTime: Infinity, // the log does not change
  });

export const usePastText = (id: string, version: number, wanted: boolean) =>
  useQuery({
    queryKey: keys.past(id, version),
    queryFn: () => request<{ version: number; doc: object }>('GET', `/manuscripts/${id}/versions/${version}`),
    enabled: wanted,
    staleTime: Infinity,
  });

export const useInk = (id: string) =>
  useQuery({ queryKey: keys.ink(id), queryFn: () => request<InkPiece[]>('GET', `/manuscripts/${id}/ink`) });
