import { wrap, type Remote } from 'comlink';
import type { Node } from 'prosemirror-model';
import { useEffect, useRef, useState } from 'react';
import { linesOf, type Hit, type Query } from '@tea-pencil/core';
import type { Found, Searcher } from './search-worker';

/** How long an expression may take before it is stopped, once it is being looked for. */
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
    let underWay = false;
    const asked = { doc, query, replacement };
    const answer = (part: Partial<Answer>) => !over && setFound({ ...none, doc, asked, ...part });
    const giveUp = (problem: string) => {
      stop();
      answer({ problem });
      over = true;
    };
    let tooLong: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      worker.current ??= startWorker();
      const { thread, searcher } = worker.current;
      thread.onerror = () => giveUp('This text could not be searched here. Reload the page, and try again.');
      underWay = true;
      // A worker that is slow to come has not looked for anything yet.
      await searcher.ready();
      if (over) return;
      if (query.pattern)
        tooLong = setTimeout(
          () => giveUp('This expression takes too long; it was stopped. Make it simpler.'),
          patience,
        );
      const said: Found = await searcher.search(linesOf(doc), query, replacement);
      underWay = false;
      clearTimeout(tooLong);
      answer('unreadable' in said ? { problem: said.unreadable } : { hits: said.hits });
    };
    const begin = setTimeout(() => {
      if (query.text) void look();
      else answer({});
    }, pause);
    return () => {
      clearTimeout(begin);
      clearTimeout(tooLong);
      // What may never come to an end is not waited for by what is asked next.
      if (underWay && query.pattern) stop();
      over = true;
    };
  }, [doc, query, replacement]);

  const { asked, ...answer } = found;
  const current = asked?.doc === doc && asked.query === query && asked.replacement === replacement;
  return { ...answer, searching: !current };
}

function startWorker() {
  const thread = new Worker(new URL('./search-worker.ts', import.meta.url), { type: 'module' });
  return { thread, searcher: wrap<Searcher>(thread) };
}
