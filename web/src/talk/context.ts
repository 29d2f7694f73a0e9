import { createContext, useContext } from 'react';
import type { Range, Thread } from '@tea-pencil/core';
import type { Talk } from './use-talk';

/** What everything that shows talk needs to know. */
export interface TalkContextValue {
  talk: Talk;
  /** The words a thread is about as they read now; null where it is about no words. */
  wordsNow(thread: Thread): string | null;
  places: ReadonlyMap<string, readonly Range[]>;
  lost: ReadonlySet<string>;
  /** Makes somebody one of the manuscript's people. */
  invite(person: string): Promise<void>;
  /** Brings a thread into sight and into focus, on the page of the text. */
  goTo(thread: string): void;
}

export const TalkContext = createContext<TalkContextValue | null>(null);

export function useTalkContext(): TalkContextValue {
  const value = useContext(TalkContext);
  if (!value) throw new Error('Talk is shown where nobody knows of it.');
  return value;
}
