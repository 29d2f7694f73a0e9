import { useState } from 'react';

/**
 * What has several parts, each chosen by itself: a choice shows at once, however late anybody tells of it.
 * @param choose carries a part out; done once `kept` tells of it, or it was refused
 * @returns what shows, and how a part of it is chosen
 */
export function useChoosing<T extends object>(
  kept: T,
  choose: (part: Partial<T>) => Promise<unknown> | void,
): [shown: T, set: (part: Partial<T>) => void] {
  const [given, setGiven] = useState<Partial<T> | null>(null);
  const set = (part: Partial<T>) => {
    const next = { ...given, ...part };
    setGiven(next);
    void Promise.resolve(choose(part)).finally(() => setGiven((now) => (now === next ? null : now)));
  };
  return [{ ...kept, ...given }, set];
}
