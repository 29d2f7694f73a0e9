import { useCallback, useState } from 'react';
import type { Verdict } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import type { Drawn } from '../reviewing/drawing';

/** How long after its steps a decision is on the screen around the text at the latest, in milliseconds. */
const behind = 200;

/**
 * Decisions, shown at once and confirmed behind.
 * @param onDecided says what was decided, with a way to take it back
 */
export function useDeciding(text: LiveText, onDecided: (sentence: string, decision: string) => void) {
  const [settling, setSettling] = useState<ReadonlyMap<string, Drawn>>(new Map());
  const decide = useCallback(
    /** @param aloud whether it is said; the bar has its own way to take a decision back */
    async (verdict: Verdict, ids: string[], aloud = true): Promise<string | null> => {
      setSettling(
        (now) => new Map([...now, ...ids.map((id) => [id, verdict === 'accept' ? 'fair' : 'before'] as const)]),
      );
      const decision = await text.decide(ids, verdict);
      const settled = () => setSettling((now) => new Map([...now].filter(([id]) => !ids.includes(id))));
      if (decision) setTimeout(settled, behind);
      else settled();
      const done = { accept: 'Accepted', reject: 'Rejected' }[verdict];
      if (decision && aloud)
        onDecided(`${done} ${ids.length === 1 ? 'one change' : `${ids.length} changes`}.`, decision);
      return decision;
    },
    [text, onDecided],
  );
  return { settling, decide };
}
