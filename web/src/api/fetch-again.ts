import { hashKey, type QueryClient, type QueryKey } from '@tanstack/react-query';

/** Longer than this nothing is waited for, in milliseconds: on a line that broke without a word no answer may ever come. */
const longest = 60_000;

const waiting = new WeakMap<QueryClient, Set<string>>();

/**
 * Fetches again what somebody has changed. What is under way comes first, and is fetched once more after it: cut off
 * whenever something changes, over a slow line it would never come where much is done. What does not come is given up.
 */
export async function fetchAgain(queries: QueryClient, queryKey: QueryKey): Promise<void> {
  const all = waiting.get(queries) ?? new Set();
  waiting.set(queries, all);
  const key = hashKey(queryKey);
  if (all.has(key)) return;
  const underWay = queries.getQueryCache().findAll({ queryKey, fetchStatus: 'fetching' });
  if (underWay.length) {
    all.add(key);
    let given: ReturnType<typeof setTimeout> | undefined;
    const came = Promise.allSettled(underWay.map(({ promise }) => promise)).then(() => true);
    const late = new Promise<false>((done) => (given = setTimeout(() => done(false), longest)));
    if (!(await Promise.race([came, late]))) await queries.cancelQueries({ queryKey });
    clearTimeout(given);
    all.delete(key);
  }
  await queries.invalidateQueries({ queryKey });
}
