import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { lensFromQuery, lensToQuery, type Lens } from '@tea-pencil/core';

/** The lens is in the address, so that it can be sent to a colleague, and Back goes back to the one before. */
export function useLens(): [lens: Lens, setLens: (lens: Lens) => void] {
  const [query, setQuery] = useSearchParams();
  const text = query.toString();
  const lens = useMemo(() => lensFromQuery(text), [text]);
  const setLens = useCallback((next: Lens) => setQuery(lensToQuery(next)), [setQuery]);
  return [lens, setLens];
}
