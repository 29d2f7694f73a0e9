import { useQuery } from '@tanstack/react-query';
import type { HouseStyle } from '@tea-pencil/core';
import type { DecidedAt, LastLookState, PlacesAsked, StyleLine, StyleVersion, StyleWhole } from '@tea-pencil/wire';
import { request } from './client';
import { keys } from './keys';

/** What the server tells of the last look, and of house styles. */

export const useLastLookState = (id: string) =>
  useQuery({
    queryKey: keys.lastLook(id),
    queryFn: () => request<LastLookState>('GET', `/manuscripts/${id}/last-look`),
  });

export const decidedAt = (id: string, asked: PlacesAsked) =>
  request<(DecidedAt | null)[]>('POST', `/manuscripts/${id}/decided-at`, asked);

export const useStyles = (wanted = true) =>
  useQuery({ queryKey: keys.styles, queryFn: () => request<StyleLine[]>('GET', '/styles'), enabled: wanted });

export const useStyle = (id: string) =>
  useQuery({ queryKey: keys.style(id), queryFn: () => request<StyleWhole>('GET', `/styles/${id}`) });

export const useStyleVersions = (id: string) =>
  useQuery({
    queryKey: keys.styleVersions(id),
    queryFn: () => request<StyleVersion[]>('GET', `/styles/${id}/versions`),
  });

export const styleAt = (id: string, version: number) => request<HouseStyle>('GET', `/styles/${id}/versions/${version}`);
