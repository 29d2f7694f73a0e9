import { useCallback } from 'react';
import { keys } from './keys';
import { useAsking } from './use-asking';

/** Changes something about a manuscript, and shows it as it then is; what is refused is said. @returns whether it was done */
export function useSetting(manuscript: string) {
  const ask = useAsking(keys.manuscript(manuscript));
  return useCallback(
    (method: 'PUT' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<boolean> =>
      ask(method, `/manuscripts/${manuscript}${path}`, body).then(
        () => true,
        () => false,
      ),
    [manuscript, ask],
  );
}
