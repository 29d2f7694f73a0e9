import { useCallback, useState } from 'react';
import { everyonesHues, type OwnHues } from '../theme/hues';

/** What a viewer has chosen for their own eyes. It stays in this browser and is told to nobody, the server included. */
export function useOwnHues(manuscript: string): [OwnHues, (hues: OwnHues) => void] {
  const key = `hues ${manuscript}`;
  const [hues, setHues] = useState<OwnHues>(() => {
    try {
      return { ...everyonesHues, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<OwnHues>) };
    } catch {
      return everyonesHues; // what is kept there cannot be read
    }
  });
  const set = useCallback(
    (next: OwnHues) => {
      localStorage.setItem(key, JSON.stringify(next));
      setHues(next);
    },
    [key],
  );
  return [hues, set];
}
