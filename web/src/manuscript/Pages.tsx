import { useState } from 'react';
import type { Thread } from '@tea-pencil/core';
import { useThreads } from '../api/queries';
import { DecideProvider, useDeciding } from '../deciding/use-deciding';
import { useUndoing } from '../deciding/use-undoing';
import { useHandler } from '../kit/use-handler';
import type { Hand } from '../live/intents';
import { LastLookProvider } from '../last-look/context';
import { nothingInFocus, useLooking, useOpened } from '../opened/opened';
import { ReviewingProvider, useReviewing } from '../reviewing/use-reviewing';
import { useShowAll } from '../reviewing/use-show-all';
import type { Drawings } from '../sheet/editor/use-live-text';
import { TalkedPages } from './TalkedPages';

const noThreads: readonly Thread[] = [];
const none: ReadonlySet<string> = new Set();

interface Props {
  drawings: Drawings;
  hand: Hand;
}

/** The pages of a manuscript, with what everything on them looks at: the changes of the lens, and deciding them. */
export function Pages({ drawings, hand }: Props) {
  const { info, focus, toText } = useOpened();
  const { look } = useLooking();
  const { data, isSuccess } = useThreads(info.id);
  const threads = data ?? noThreads;
  // What was unfolded is so for as long as one looks in the same way.
  const [opened, setOpened] = useState({ look, changes: none });
  const unfolded = opened.look === look ? opened.changes : none;
  const { underway, decide: send } = useDeciding();
  const reviewing = useReviewing({ threads, underway, unfolded });
  const mayGoBack = useShowAll();
  useUndoing();

  const decide = useHandler((verdict: Parameters<typeof send>[0], ids: string[]) => {
    focus.set(nothingInFocus);
    toText();
    void send(verdict, ids);
  });
  const unfold = useHandler((changes: string[]) => {
    setOpened({ look, changes: new Set([...unfolded, ...changes]) });
    focus.set({ change: changes[0] ?? null, thread: null, at: null });
  });
  return (
    <ReviewingProvider value={reviewing}>
      <DecideProvider value={decide}>
        <LastLookProvider>
          <TalkedPages {...{ drawings, hand, threads, mayGoBack, unfold, send }} fetched={isSuccess} />
        </LastLookProvider>
      </DecideProvider>
    </ReviewingProvider>
  );
}
