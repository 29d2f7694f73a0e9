import { wrap, type Remote } from 'comlink';
import type { Node } from 'prosemirror-model';
import { useEffect, useRef, useState } from 'react';
import { linesOf, type Hit, type Query } from '@tea-pencil/core';
import type { Found, Searcher } from './search-worker';

/** How long an expression may take before it is stopped. */
const patience = 4000;
/** How long one waits for the writer to go on. */
const pause = 120;

export interface Search {
  hits: Hit[];
  /** The text they were found in; they stand nowhere else. */
  doc: Node | null;
  /** Why nothing can be found. */
  problem: string | null;
  searching: boolean;
}

/** What was found, and what it was the answer to. */
interface Answer extends Omit<Search, 'searching'> {
  asked: { doc: Node; query: Query; replacement: string } | null;
}
const none: Answer = { hits: [], doc: null, problem: null, asked: null };

/** What is found of a query in a text, again whenever either changes. */
export function useSearch(doc: Node, query: Query, replacement: string): Search {
  const [found, setFound] = useState(none);
  const worker = useRef<{ thread: Worker; searcher: Remote<Searcher> } | null>(null);

  const stop = () => {
    worker.current?.thread.terminate();
    worker.current = null;
  };
  useEffect(() => stop, []);

  useEffect(() => {
    let over = false;
    const asked = { doc, query, replacement };
    const begin = setTimeout(() => {
      if (!query.text) return setFound({ ...none, doc, asked });
      if (!worker.current) {
        const thread = new Worker(new URL('./search-worker.ts', import.meta.url), { type: 'module' });
        worker.current = { thread, searcher: wrap<Searcher>(thread) };
      }
      const tooLong = setTimeout(() => {
        stop();
        over = true;
        const problem = 'This expression takes too long; it was stopped. Make it simpler.';
        setFound({ ...none, doc, problem, asked });
      }, patience);
      void worker.current.searcher.search(linesOf(doc), query, replacement).then((answer: Found) => {
        clearTimeout(tooLong);
        if (over) return;
        const problem = 'unreadable' in answer ? answer.unreadable : null;
        setFound({ hits: 'hits' in answer ? answer.hits : [], doc, problem, asked });
      });
    }, pause);
    return () => {
      over = true;
      clearTimeout(begin);
    };
  }, [doc, query, replacement]);

  const { asked, ...answer } = found;
  const current = asked?.doc === doc && asked.query === query && asked.replacement === replacement;
  return { ...answer, searching: !current };
}
