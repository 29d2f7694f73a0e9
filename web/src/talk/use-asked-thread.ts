import { useEffect, useState } from 'react';
import type { Thread } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';
import { useInAddress } from '../reviewing/use-lens';

/**
 * An address may ask for a thread: the text goes there, once it and its threads are here.
 * @param threads null until they are
 */
export function useAskedThread(threads: readonly Thread[] | null, onGo: (thread: string) => void): void {
  const { say } = useOpened();
  const [asked, setAsked] = useInAddress('thread');
  const [done, setDone] = useState<string | null>(null);
  useEffect(() => {
    if (!asked || !threads || asked === done) return;
    // eslint-disable-next-line react-hooks/set-state-in-effect -- it is gone to once, however often this is drawn
    setDone(asked);
    if (threads.some(({ id }) => id === asked)) requestAnimationFrame(() => onGo(asked));
    else say('This thread is not there any more.');
    setAsked(null);
  }, [asked, threads, done, onGo, say, setAsked]);
}
