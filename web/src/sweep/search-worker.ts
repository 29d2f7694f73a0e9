import { expose } from 'comlink';
import { search, UnreadableQuery, type Hit, type Line, type Query } from '@tea-pencil/core';

/** Searching, away from the screen: an expression that never comes to an end does not stop the person who wrote it. */

export type Found = { hits: Hit[] } | { unreadable: string };

const searcher = {
  /** Answers once the worker has come and what was asked before is done. */
  ready: () => true,

  search(lines: Line[], query: Query, replacement: string): Found {
    try {
      return { hits: search(lines, query, replacement) };
    } catch (problem) {
      if (problem instanceof UnreadableQuery) return { unreadable: problem.message };
      throw problem;
    }
  },
};
export type Searcher = typeof searcher;

expose(searcher);
