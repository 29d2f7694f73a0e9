import { createContext, useContext } from 'react';
import type { Thread } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';
import type { Talk } from './use-talk';

/** What everything that shows talk needs to know. */
export interface TalkContextValue {
  info: ManuscriptInfo;
  me: string;
  mayRemark: boolean;
  mayWrite: boolean;
  mayDecide: boolean;
  talk: Talk;
  nameOf(person: string): string;
  /** The words a thread is about as they read now; null where it is about no words. */
  wordsNow(thread: Thread): string | null;
  lost: ReadonlySet<string>;
  /** Makes somebody one of the manuscript's people. */
  invite(person: string): Promise<void>;
}

export const TalkContext = createContext<TalkContextValue | null>(null);

export function useTalkContext(): TalkContextValue {
  const value = useContext(TalkContext);
  if (!value) throw new Error('Talk is shown where nobody knows of it.');
  return value;
}
