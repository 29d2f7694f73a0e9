import { wrap, type Remote } from 'comlink';
import type { Node } from 'prosemirror-model';
import { useEffect, useRef, useState } from 'react';
import { linesOf, type Hit, type Query } from '@tea-pencil/core';
import type { Found, Searcher } from './search-worker';

/** How long one waits for the writer to go on. */
const pause = 120;

export interface Search {
  hits: Hit[];
  /** The text they were found in; a moment later they may stand elsewhere. */
  doc: Node | null;
  /** Why nothing can be found. */
  problem: string | null;
  /** Whether this is not asked for any more, or not found yet; what others write meanwhile is looked through beside it. */
  searching: boolean;
}

/** What was found, and what it was the answer to. */
interface Answer extends Omit<Search, 'searching'> {
  asked: { query: Query; replacement: string } | null;
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

  const newest = useRef(doc);
  const lookAgain = useRef(() => {});
  useEffect(() => {
    let over = false;
    let underWay = false;
    let begin: ReturnType<typeof setTimeout> | undefined;
    const asked = { query, replacement };
    const answer = (part: Partial<Answer>) => !over && setFound({ ...none, asked, ...part });
    const giveUp = (problem: string) => {
      stop();
      answer({ problem });
      over = true;
    };
    const look = async () => {
      begin = undefined;
      const doc = newest.current;
      if (!query.text) return answer({ doc });
      worker.current ??= startWorker();
      const { thread, searcher } = worker.current;
      thread.onerror = () => giveUp('This text could not be searched here. Reload the page, and try again.');
      underWay = true;
      // A worker that is slow to come has not looked for anything yet.
      await searcher.ready();
      if (over) return;
      const said: Found = await searcher.search(linesOf(doc), query, replacement);
      underWay = false;
      answer({ doc, ...('unreadable' in said ? { problem: said.unreadable } : { hits: said.hits }) });
      if (newest.current !== doc) soon();
    };
    // However fast others write, what is asked for is found: their words are looked through after it.
    const soon = () => {
      if (!over && !underWay) begin ??= setTimeout(() => void look(), pause);
    };
    lookAgain.current = soon;
    soon();
    return () => {
      clearTimeout(begin);
      // What takes long is not waited for by what is asked next.
      if (underWay && query.pattern) stop();
      over = true;
    };
  }, [query, replacement]);
  useEffect(() => {
    newest.current = doc;
    lookAgain.current();
  }, [doc]);

  const { asked, ...answer } = found;
  return { ...answer, searching: asked?.query !== query || asked.replacement !== replacement };
}

function startWorker() {
  const thread = new Worker(new URL('./search-worker.ts', import.meta.url), { type: 'module' });
  return { thread, searcher: wrap<Searcher>(thread) };
}
