import { wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { Rule, StyleProblem } from '@tea-pencil/core';
import type { Trier } from './style-worker';

/** What is wrong with rules, and what their examples become, while they are written. */
export interface Tried {
  problems: StyleProblem[];
  /** For each rule its example as it would be put right. */
  examples: string[];
}

const pause = 300;
const none: Tried = { problems: [], examples: [] };

export function useTried(rules: readonly Rule[], language: string): Tried {
  const [tried, setTried] = useState(none);
  const thread = useRef<{ worker: Worker; remote: Remote<Trier> } | null>(null);
  useEffect(() => () => thread.current?.worker.terminate(), []);
  useEffect(() => {
    let over = false;
    const ask = async () => {
      if (!thread.current) {
        const worker = new Worker(new URL('./style-worker.ts', import.meta.url), { type: 'module' });
        thread.current = { worker, remote: wrap<Trier>(worker) };
      }
      const { remote } = thread.current;
      const problems = await remote.problems([...rules]);
      const examples = await remote.examples([...rules], language);
      if (!over) setTried({ problems, examples });
    };
    const begin = setTimeout(() => void ask(), pause);
    return () => {
      over = true;
      clearTimeout(begin);
    };
  }, [rules, language]);
  return tried;
}
