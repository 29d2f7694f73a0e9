import { useQuery } from '@tanstack/react-query';
import type { FairCopy, FairCopyAsked } from '@tea-pencil/wire';
import { request } from './client';
import { keys } from './keys';

/** What the server knows of the fair copies of a manuscript. */

export const useFairCopies = (id: string) =>
  useQuery({
    queryKey: keys.fairCopies(id),
    queryFn: () => request<FairCopy[]>('GET', `/manuscripts/${id}/fair-copies`),
  });

export const makeFairCopy = (id: string, asked: FairCopyAsked, stop: AbortSignal) =>
  request<FairCopy>('POST', `/manuscripts/${id}/fair-copies`, asked, { stop });

/** Where one of its files is served, or the record of it. */
export const fairCopyFile = (id: string, copy: string, file: 'clean' | 'marked' | 'record'): string =>
  `/manuscripts/${id}/fair-copies/${copy}/files/${file}`;
