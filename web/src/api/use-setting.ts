import { keys } from './keys';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback } from 'react';
import { request } from './client';

/** Changes something about a manuscript, and shows it as it then is; what is refused is said. */
export function useSetting(manuscript: string) {
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  return useCallback(
    async (method: 'PUT' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<boolean> => {
      try {
        await request(method, `/manuscripts/${manuscript}${path}`, body);
        await queries.invalidateQueries({ queryKey: keys.manuscript(manuscript) });
        return true;
      } catch (problem) {
        enqueueSnackbar((problem as Error).message);
        return false;
      }
    },
    [manuscript, queries, enqueueSnackbar],
  );
}
