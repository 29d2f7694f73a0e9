import { hashKey, type QueryClient, type QueryKey } from '@tanstack/react-query';

const waiting = new WeakMap<QueryClient, Set<string>>();

/**
 * Fetches again what somebody has changed. What is under way comes first, and is fetched once more after it: cut off
 * whenever something changes, over a slow line it would never come where much is done.
 */
export async function fetchAgain(queries: QueryClient, queryKey: QueryKey): Promise<void> {
  const all = waiting.get(queries) ?? new Set();
  waiting.set(queries, all);
  const key = hashKey(queryKey);
  if (all.has(key)) return;
  const underWay = queries.getQueryCache().findAll({ queryKey, fetchStatus: 'fetching' });
  if (underWay.length) {
    all.add(key);
    await Promise.allSettled(underWay.map(({ promise }) => promise));
    all.delete(key);
  }
  await queries.invalidateQueries({ queryKey });
}
