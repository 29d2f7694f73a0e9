import { useState } from 'react';
import { everything, isEverything, lensToQuery, type Lens } from '@tea-pencil/core';
import type { Look } from '@tea-pencil/wire';
import { useCommands } from '../commands/acts';
import { useLooking } from '../opened/opened';
import { plainLook } from './use-view';

/**
 * All of it at one command, and back to what one looked at before.
 * @returns whether there is something to go back to
 */
export function useShowAll(): boolean {
  const { lens, setLens, look, setLook } = useLooking();
  const [before, setBefore] = useState<{ lens: Lens; look: Look } | null>(null);
  const whole = isEverything(lens) && look.reading === 'marked' && look.flow === 'both' && !look.folded.length;
  const set = (nextLens: Lens, nextLook: Look) => {
    if (lensToQuery(nextLens) !== lensToQuery(lens)) setLens(nextLens);
    setLook(nextLook);
  };
  useCommands({
    'show all': () => {
      if (whole) {
        if (before) set(before.lens, { ...before.look, outline: look.outline });
        return setBefore(null);
      }
      setBefore({ lens, look });
      set(everything, { ...plainLook, notes: look.notes, outline: look.outline });
    },
  });
  return whole && before !== null;
}
