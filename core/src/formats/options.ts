import type { Protection } from '../manuscript/manuscript.js';

/** How a file is to be written. */
export interface WriteOptions {
  /** A copy in which nothing is proposed any more, not even in what is carried. */
  clean?: boolean;
  /** What keeps everyone to recorded changes; null: nothing does. Where it is not given, the file stays as it came. */
  protection?: Protection | null;
  /** Nothing in it names people: neither its properties nor its pictures, nor what sessions of editing have left. */
  nameless?: boolean;
  /** Nothing in it runs when it is opened, or fetches something from elsewhere; how it looks stays. */
  inert?: boolean;
}

/** How far reading a file is. */
export interface Progress {
  /** How much of it has been read, from 0 to 1. */
  part: number;
  /** How many marks of changes have been read, and how many there are; none where that is not known. */
  done: number;
  of: number;
}
export type Tell = (progress: Progress) => void;

/** Counts the marks of changes that a part of a file holds, as it is read piece by piece. */
export function counting(source: string, marks: RegExp, tell: Tell): (start: number, end: number) => void {
  const count = (text: string) => text.match(marks)?.length ?? 0;
  const of = count(source);
  let done = 0;
  return (start, end) => {
    if (of) done += count(source.slice(start, end));
    tell({ part: end / source.length, done, of });
  };
}
