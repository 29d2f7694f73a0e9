import { useCallback, useLayoutEffect, useRef } from 'react';

/** A handler that stays the same from one drawing to the next, and does what the newest one would do. */
export function useHandler<Args extends unknown[], Result>(handler: (...args: Args) => Result) {
  const newest = useRef(handler);
  useLayoutEffect(() => {
    newest.current = handler;
  });
  return useCallback((...args: Args): Result => newest.current(...args), []);
}
