import { useEffect, useState } from 'react';

/**
 * Whether something has held for a while: what comes and goes again moves nothing on the page.
 * @param time in milliseconds
 */
export function useLasting(holds: boolean, time: number): boolean {
  const [lasts, setLasts] = useState(false);
  useEffect(() => {
    if (!holds) return;
    const timer = setTimeout(() => setLasts(true), time);
    return () => {
      clearTimeout(timer);
      setLasts(false);
    };
  }, [holds, time]);
  return holds && lasts;
}
