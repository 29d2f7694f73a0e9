import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import {
  anchors,
  toDate,
  wordsOf,
  type Comment,
  type Remark,
  type RemarkPiece,
  type Thread,
  type Tint,
} from '@tea-pencil/core';

/** What is said in the demo texts, as threads. */

export type Who = 'I' | 'T' | 'M' | 'H' | 'A';

/** A comment: who speaks, and what; `@T` in it mentions Tobias. */
export type Spoken = [who: Who, text: string, more?: { asks?: Who; wording?: string }];

export interface TalkNotes {
  /** By the number their words have in the text. */
  threads?: Record<number, Spoken[]>;
  resolved?: number[];
  tints?: Record<number, [who: Who, tint: Tint]>;
  /** About the whole. */
  whole?: Spoken[];
  /** To oneself, on the first place where these words stand. */
  toSelf?: [words: string, note: Spoken];
}

/** @param idOf the id of the person a letter stands for */
function remarkWith(text: string, idOf: (letter: string) => string): Remark {
  const content = text.split(/(@[A-Z]\b)/).flatMap((part): RemarkPiece[] => {
    if (/^@[A-Z]$/.test(part)) return [{ type: 'mention', attrs: { person: idOf(part[1]!) } }];
    return part ? [{ type: 'text', text: part }] : [];
  });
  return { type: 'doc', content: [{ type: 'line', attrs: { list: null }, content }] };
}

/** The first place of some words in a text. */
function placeOf(doc: Node, words: string): { from: number; to: number } {
  let from = 1;
  doc.descendants((node, pos) => {
    const at = node.isTextblock ? node.textContent.indexOf(words) : -1;
    if (at >= 0) from = pos + 1 + at;
    return at < 0;
  });
  return { from, to: from + words.length };
}

/**
 * The threads of a demo text, in the order in which they were begun.
 * @param touched when the text was touched last; all was said before
 */
export function talkOf(
  notes: TalkNotes,
  doc: Node,
  threadIds: Record<string, string>,
  idOf: (letter: string) => string,
  touched: Date,
): Thread[] {
  const places = anchors(doc);
  const hours = (n: number) => toDate(new Date(touched.getTime() - n * 3_600_000));
  const spoken = (said: readonly Spoken[], begun: number): Comment[] => {
    const comments = said.map(([who, text, { asks, wording } = {}], k): Comment => ({
      id: nanoid(12),
      author: idOf(who),
      date: hours(begun - k * 0.25),
      body: remarkWith(text, idOf),
      ...(asks && { query: { to: idOf(asks) } }),
      ...(wording !== undefined && { proposal: { words: wording } }),
    }));
    // Who was asked and has spoken since, has answered.
    comments.forEach(({ query }, k) => {
      const answer = comments.slice(k + 1).find(({ author }) => author === query?.to);
      if (query && answer) query.settled = { by: answer.author, date: answer.date };
    });
    return comments;
  };
  const thread = (id: string, comments: Comment[], more: Partial<Thread>): Thread => ({
    id,
    author: comments[0]?.author ?? '',
    date: comments[0]?.date ?? hours(2),
    quote: '',
    resolved: false,
    ...more,
    comments,
  });
  const { threads = {}, resolved = [], tints = {}, whole, toSelf } = notes;
  const all = Object.keys({ ...threads, ...tints }).map((key) => {
    const number = Number(key);
    const id = threadIds[number]!;
    const said = spoken(
      threads[number] ?? [],
      Math.max(1, 12 - (number % 12)) * 0.9 + (threads[number]?.length ?? 0) * 0.25,
    );
    const [tinter, tint] = tints[number] ?? [];
    const done = resolved.includes(number);
    return thread(id, said, {
      quote: wordsOf(doc, places.get(id)!),
      resolved: done,
      ...(done && { turned: { by: said[0]!.author, date: hours(0.5) } }),
      ...(tint && tinter && { tint, author: idOf(tinter) }),
    });
  });
  if (whole) all.push(thread(nanoid(12), spoken(whole, 5), { whole: true }));
  if (toSelf) {
    const [words, note] = toSelf;
    all.push(
      thread(nanoid(12), spoken([note], 1), {
        toSelf: true,
        quote: words,
        place: { version: 0, ...placeOf(doc, words) },
      }),
    );
  }
  return all;
}
