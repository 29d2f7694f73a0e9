import { openQueries, type Thread } from '@tea-pencil/core';

/** The thread that comes after another in a list, or before it; around at its ends. */
export function neighbour(threads: readonly Thread[], of: string | null, direction: 1 | -1): string | null {
  if (!threads.length) return null;
  const at = threads.findIndex(({ id }) => id === of);
  if (at < 0) return threads[direction === 1 ? 0 : threads.length - 1]!.id;
  return threads[(at + direction + threads.length) % threads.length]!.id;
}

/** The same, among those that wait for an answer and the one that one is at. */
export const neighbouringQuery = (threads: readonly Thread[], of: string | null, direction: 1 | -1): string | null =>
  neighbour(
    threads.filter((thread) => thread.id === of || openQueries(thread).length > 0),
    of,
    direction,
  );
