import { useCallback } from 'react';
import { keys } from './keys';
import { useTrying } from './use-asking';

/** Changes something about a manuscript, and shows it as it then is; what is refused is said. @returns whether it was done */
export function useSetting(manuscript: string) {
  const attempt = useTrying(keys.manuscript(manuscript));
  return useCallback(
    (method: 'POST' | 'PUT' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<boolean> =>
      attempt(method, `/manuscripts/${manuscript}${path}`, body),
    [manuscript, attempt],
  );
}
