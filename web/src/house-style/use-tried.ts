import { wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { Rule, StyleProblem } from '@tea-pencil/core';
import type { Trier } from './style-worker';

/** What is wrong with rules, and what their examples become, while they are written. */
export interface Tried {
  problems: StyleProblem[];
  /** For each rule its example as it would be put right. */
  examples: string[];
  /** Whether an expression did not come to an end. */
  endless: boolean;
}

const patience = 4000;
const pause = 300;
const none: Tried = { problems: [], examples: [], endless: false };

export function useTried(rules: readonly Rule[], language: string): Tried {
  const [tried, setTried] = useState(none);
  const thread = useRef<{ worker: Worker; remote: Remote<Trier> } | null>(null);
  useEffect(() => () => thread.current?.worker.terminate(), []);
  useEffect(() => {
    let over = false;
    let late: ReturnType<typeof setTimeout> | undefined;
    const ask = async () => {
      if (!thread.current) {
        const worker = new Worker(new URL('./style-worker.ts', import.meta.url), { type: 'module' });
        thread.current = { worker, remote: wrap<Trier>(worker) };
      }
      const { worker, remote } = thread.current;
      late = setTimeout(() => {
        worker.terminate();
        thread.current = null;
        if (!over) setTried({ problems: [], examples: [], endless: true });
      }, patience);
      const problems = await remote.problems([...rules]);
      const examples = await remote.examples([...rules], language);
      clearTimeout(late);
      if (!over) setTried({ problems, examples, endless: false });
    };
    const begin = setTimeout(() => void ask(), pause);
    return () => {
      over = true;
      clearTimeout(begin);
      clearTimeout(late);
    };
  }, [rules, language]);
  return tried;
}
