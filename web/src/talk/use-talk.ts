import { useMemo } from 'react';
import type { Thread } from '@tea-pencil/core';
import { useBeginning } from './use-beginning';
import { useCommentActs, useThreadActs } from './use-thread-acts';

/**
 * All that can be done with talk. What the server refuses is said, and nothing written is lost.
 * @param wordsNow the words of a thread as they read now
 */
export function useTalk(wordsNow: (thread: Thread) => string | null, onFocus: (thread: string | null) => void) {
  const { begun, keep, leave } = useBeginning();
  const comments = useCommentActs();
  const threads = useThreadActs(wordsNow, onFocus);
  return useMemo(() => ({ begun, keep, leave, ...comments, ...threads }), [begun, keep, leave, comments, threads]);
}

export type Talk = ReturnType<typeof useTalk>;
