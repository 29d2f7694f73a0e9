import { createContext, useCallback, useContext, useState } from 'react';
import type { Verdict } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';
import { decidedWords } from './decided-words';
import type { Drawn } from '../reviewing/drawing';

const sentence = (words: string) => `${words[0]!.toUpperCase()}${words.slice(1)}.`;

/** How long after its steps a decision is on the screen around the text at the latest, in milliseconds. */
const behind = 200;

/** Decisions, shown at once and confirmed behind. */
export function useDeciding() {
  const { text, sayDone } = useOpened();
  const [underway, setUnderway] = useState<ReadonlyMap<string, Drawn>>(new Map());
  const decide = useCallback(
    /** @param aloud whether it is said; the bar has its own way to take a decision back */
    async (verdict: Verdict, ids: string[], aloud = true): Promise<string | null> => {
      setUnderway(
        (now) => new Map([...now, ...ids.map((id) => [id, verdict === 'accept' ? 'fair' : 'before'] as const)]),
      );
      const decision = await text.decide(ids, verdict);
      const over = () => setUnderway((now) => new Map([...now].filter(([id]) => !ids.includes(id))));
      if (decision) setTimeout(over, behind);
      else over();
      if (decision && aloud) sayDone(sentence(decidedWords(verdict, ids.length)), () => void text.takeBack(decision));
      return decision;
    },
    [text, sayDone],
  );
  return { underway, decide };
}

export type Decide = (verdict: Verdict, ids: string[]) => void;
const DecideContext = createContext<Decide | null>(null);
export const DecideProvider = DecideContext;

/** Decides changes, in slip, menu, foot and ledger alike. */
export function useDecide(): Decide {
  const decide = useContext(DecideContext);
  if (!decide) throw new Error('Nothing can be decided here.');
  return decide;
}
