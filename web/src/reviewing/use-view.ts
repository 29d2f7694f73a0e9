import { keys } from '../api/keys';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef } from 'react';
import type { Look, View } from '@tea-pencil/wire';
import { request } from '../api/client';

export const plainLook: Look = {
  reading: 'marked',
  flow: 'both',
  folded: [],
  notes: 'all',
  talk: 'margin',
  outline: false,
};

/** How long one waits before what has changed is kept, in milliseconds. */
const pause = 500;

/** What is remembered of how one looks at a manuscript: here at once, on the server a moment later, for nobody else. */
export function useView(manuscript: string) {
  const queries = useQueryClient();
  const path = `/manuscripts/${manuscript}/view`;
  const waiting = useRef<View>({});
  const query = useQuery({
    queryKey: keys.view(manuscript),
    // What has been chosen while it was on its way is newer.
    queryFn: async () => ({ ...(await request<View>('GET', path)), ...waiting.current }),
    staleTime: Infinity,
  });
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  const keep = useCallback(
    (last = false) => {
      clearTimeout(timer.current);
      timer.current = undefined;
      const view = waiting.current;
      waiting.current = {};
      // What could not be kept is kept with the next change; it is here meanwhile.
      if (Object.keys(view).length)
        request('PATCH', path, view, { last }).catch(() => (waiting.current = { ...view, ...waiting.current }));
    },
    [path],
  );

  useEffect(() => {
    const going = () => keep(true);
    addEventListener('pagehide', going);
    return () => {
      removeEventListener('pagehide', going);
      keep();
    };
  }, [keep]);

  const set = useCallback(
    (part: View) => {
      queries.setQueryData<View>(keys.view(manuscript), (view) => ({ ...view, ...part }));
      waiting.current = { ...waiting.current, ...part };
      timer.current ??= setTimeout(() => keep(), pause);
    },
    [queries, manuscript, keep],
  );
  return { view: query.data ?? {}, set };
}
