import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { lensFromQuery, lensToQuery, type Lens } from '@tea-pencil/core';
import { useGoing } from '../kit/use-going';
import type { NextLens } from '../opened/opened';

/** What stands in the address besides the lens: how the ledger is brought together, which way the text is read. */
const besides = ['together', 'reading', 'thread', 'from', 'to', 'look'] as const;
type Beside = (typeof besides)[number];

/** The address as it is at this moment: what was set just now is in it already. */
const now = () => new URLSearchParams(window.location.search);

/** Says something else in the address, on the page that it names: one may be on the way to another than is drawn. */
function useSaying() {
  const go = useGoing();
  return useCallback(
    (query: URLSearchParams, replace = false) =>
      void go({ pathname: window.location.pathname, search: query.toString() }, { replace }),
    [go],
  );
}

/** The lens at this moment; what is drawn of it follows a little later. */
export const lensNow = (): Lens => lensFromQuery(now().toString());

/** The lens is in the address, so that it can be sent to a colleague, and Back goes back to the one before. */
export function useLens(): [lens: Lens, setLens: (next: NextLens) => void] {
  const [query] = useSearchParams();
  const say = useSaying();
  const text = lensToQuery(lensFromQuery(query.toString()));
  const lens = useMemo(() => lensFromQuery(text), [text]);
  const setLens = useCallback(
    (next: NextLens) => {
      const lens = typeof next === 'function' ? next(lensNow()) : next;
      const then = new URLSearchParams(lensToQuery(lens));
      for (const name of besides) {
        const value = now().get(name);
        if (value !== null) then.set(name, value);
      }
      say(then);
    },
    [say],
  );
  return [lens, setLens];
}

/** Something else that the address says, so that who gets it sees the same; null where it says nothing of it. */
export function useInAddress(name: Beside): [value: string | null, set: (value: string | null) => void] {
  const [query] = useSearchParams();
  const say = useSaying();
  const set = useCallback(
    (value: string | null) => {
      const then = now();
      if (value === then.get(name)) return;
      if (value === null) then.delete(name);
      else then.set(name, value);
      say(then, true);
    },
    [name, say],
  );
  return [query.get(name), set];
}
