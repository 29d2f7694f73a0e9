import type { Thread } from '../manuscript/threads.js';

/** How much may be said about one manuscript: every window that has it open holds all of it. */
export const talkLimits = {
  threads: 20_000,
  comments: 20_000,
  letters: 10_000_000,
  /** Of one person, so that nobody takes the room of the others. */
  commentsOfOne: 10_000,
  lettersOfOne: 2_000_000,
} as const;

/** How much has been said: letters as they are written down, with all that is said of them. */
export type TalkSize = Record<keyof typeof talkLimits, number>;

const number = (limit: keyof typeof talkLimits) => talkLimits[limit].toLocaleString('en');

/** Where one goes on: a copy of the manuscript as it stands holds what was said too, one of a draft does not. */
const goOn = 'go on in a copy of a draft, which begins without any';

/** Each limit as the end of a sentence, with what to do. */
const words: Record<keyof typeof talkLimits, string> = {
  threads: `a manuscript holds at most ${number('threads')} threads; ${goOn}`,
  comments: `a manuscript holds at most ${number('comments')} comments; ${goOn}`,
  letters: `the comments of a manuscript have at most ${number('letters')} letters together; ${goOn}`,
  commentsOfOne: `of one person a manuscript holds at most ${number('commentsOfOne')} comments`,
  lettersOfOne: `of one person the comments of a manuscript have at most ${number('lettersOfOne')} letters together`,
};

/**
 * What is too much of what is said, as the end of a sentence; null where nothing is.
 * @param size how much it is, as far as it is known
 */
export function overTalk(size: Partial<TalkSize>): string | null {
  const over = (Object.keys(talkLimits) as (keyof TalkSize)[]).find((limit) => (size[limit] ?? 0) > talkLimits[limit]);
  return over ? words[over] : null;
}

/** How much threads say that come in together. */
export function talkSize(threads: readonly Thread[]): Pick<TalkSize, 'threads' | 'comments' | 'letters'> {
  const comments = threads.flatMap((thread) => thread.comments);
  const letters = comments.reduce((sum, { body }) => sum + JSON.stringify(body).length, 0);
  return { threads: threads.length, comments: comments.length, letters };
}
