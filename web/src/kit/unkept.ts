/** What was changed on a page and is not kept yet: it waits in the window for whoever comes back to that page. */
const waiting = new Map<string, unknown>();

// Who closes the window is asked before.
addEventListener('beforeunload', (event) => {
  if (waiting.size) event.preventDefault();
});

export const unkept = {
  /** @returns what waits under a key, as it was given */
  of: <T>(key: string): T | undefined => waiting.get(key) as T | undefined,
  /** @param what null where nothing is unkept any more */
  set(key: string, what: unknown): void {
    if (what === null) waiting.delete(key);
    else waiting.set(key, what);
  },
  any: (): boolean => waiting.size > 0,
  /** Whoever made the changes has signed out. */
  forget: (): void => waiting.clear(),
};
