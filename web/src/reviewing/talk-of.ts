import type { Change, Range, Surroundings, Thread } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';

/** The threads that are about each change: those begun on it, and those on words it touches. */
export function talkOf(
  changes: readonly Change[],
  threads: readonly Thread[],
  places: ReadonlyMap<string, Range[]>,
): Map<string, Thread[]> {
  const found = new Map<string, Thread[]>();
  const add = (id: string, thread: Thread) => found.set(id, [...(found.get(id) ?? []), thread]);
  for (const thread of threads) {
    if (thread.change !== undefined) add(thread.change, thread);
    for (const { from, to } of places.get(thread.id) ?? [])
      for (const { id, ranges } of changes)
        if (id !== thread.change && ranges.some((range) => range.from < to && range.to > from)) add(id, thread);
  }
  return found;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** Whether a comment of a thread has someone's name in it: the whole one, or the first. */
function names(thread: Thread, name: string): boolean {
  const first = name.split(/\s+/)[0]!;
  const word = new RegExp(`(?<![\\p{L}\\p{N}])(?:${escaped(name)}|${escaped(first)})(?![\\p{L}\\p{N}])`, 'iu');
  return thread.comments.some(({ text }) => word.test(text));
}

/** What a lens must know besides the changes themselves. */
export function surroundingsOf(info: ManuscriptInfo, talk: ReadonlyMap<string, Thread[]>): Surroundings {
  return {
    is: (author) => whoIs(info, author),
    discussed: new Set(talk.keys()),
    naming: (person) => {
      const name = info.people.find(({ id }) => id === person)?.name ?? '';
      const about = [...talk].filter(([, threads]) => threads.some((thread) => name && names(thread, name)));
      return new Set(about.map(([id]) => id));
    },
  };
}
