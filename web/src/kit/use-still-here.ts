import { useCallback, useEffect, useRef } from 'react';

/** Whether a part of the screen is there still when what it waited for has come: who has gone on is not brought back to it. */
export function useStillHere(): () => boolean {
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => void (here.current = false);
  }, []);
  return useCallback(() => here.current, []);
}
