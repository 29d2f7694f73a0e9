import {
  mentionsIn,
  openQueries,
  remarkText,
  type Change,
  type Range,
  type Surroundings,
  type Thread,
} from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';

/** Where the ranges of changes lie, in order, so that those at a place are found without looking at all. */
class Ranges {
  readonly #all: { from: number; to: number; id: string }[];
  /** The furthest end of any range up to each. */
  readonly #ends: number[] = [];

  constructor(changes: readonly Change[]) {
    this.#all = changes
      .flatMap(({ id, ranges }) => ranges.map(({ from, to }) => ({ from, to, id })))
      .sort((a, b) => a.from - b.from);
    let end = 0;
    for (const { to } of this.#all) this.#ends.push((end = Math.max(end, to)));
  }

  /** The changes of which a range overlaps this one. */
  over({ from, to }: Range): Set<string> {
    let i = 0;
    for (let end = this.#ends.length; i < end;) {
      const middle = (i + end) >> 1;
      if (this.#ends[middle]! <= from) i = middle + 1;
      else end = middle;
    }
    const found = new Set<string>();
    for (; i < this.#all.length && this.#all[i]!.from < to; i++)
      if (this.#all[i]!.to > from) found.add(this.#all[i]!.id);
    return found;
  }
}

/** The threads that are about each change: those begun on it, and those on words it touches. */
export function talkOf(
  changes: readonly Change[],
  threads: readonly Thread[],
  places: ReadonlyMap<string, readonly Range[]>,
): Map<string, Thread[]> {
  const found = new Map<string, Thread[]>();
  const ranges = new Ranges(changes);
  const add = (id: string, thread: Thread) => found.set(id, [...(found.get(id) ?? []), thread]);
  for (const thread of threads) {
    const about = new Set(thread.change === undefined ? [] : [thread.change]);
    for (const range of places.get(thread.id) ?? []) for (const id of ranges.over(range)) about.add(id);
    for (const id of about) add(id, thread);
  }
  return found;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** Whether a thread asks or mentions someone, or has their name in its words: the whole one, or the first. */
export function namesIn(thread: Thread, person: string, info: Pick<ManuscriptInfo, 'people'>): boolean {
  const name = info.people.find(({ id }) => id === person)?.name ?? '';
  const first = name.split(/\s+/)[0]!;
  const word = new RegExp(`(?<![\\p{L}\\p{N}])(?:${escaped(name)}|${escaped(first)})(?![\\p{L}\\p{N}])`, 'iu');
  return thread.comments.some(
    ({ body, query }) =>
      query?.to === person ||
      mentionsIn(body).includes(person) ||
      (name !== '' && word.test(remarkText(body, () => ''))),
  );
}

/** What a lens must know besides the changes themselves. */
export function surroundingsOf(info: ManuscriptInfo, talk: ReadonlyMap<string, Thread[]>): Surroundings {
  const where = (test: (thread: Thread) => boolean) =>
    new Set([...talk].filter(([, threads]) => threads.some(test)).map(([id]) => id));
  return {
    is: (author) => whoIs(info, author),
    discussed: new Set(talk.keys()),
    naming: (person) => where((thread) => namesIn(thread, person, info)),
    owing: (person) => where((thread) => openQueries(thread).some(({ query }) => whoIs(info, query!.to) === person)),
  };
}
