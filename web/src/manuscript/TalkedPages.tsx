import { LinearProgress } from '@mui/material';
import { lazy, Suspense, useMemo, useRef } from 'react';
import { openQueries, type Thread } from '@tea-pencil/core';
import { request } from '../api/client';
import { useCommands } from '../commands/acts';
import { Foot } from '../deciding/Foot';
import type { useDeciding } from '../deciding/use-deciding';
import { useHandler } from '../kit/use-handler';
import { useStore } from '../kit/store';
import { isAtLeast, useWidth } from '../kit/width';
import { Ledger } from '../ledger/Ledger';
import type { Row } from '../ledger/rows';
import type { Hand } from '../live/intents';
import { nothingInFocus, show, useLooking, useOpened, type Focus } from '../opened/opened';
import { bring } from '../opened/scrolling';
import { ReadThroughBar } from '../read-through/ReadThroughBar';
import { stepping } from '../read-through/use-read-through';
import { useReviewed } from '../reviewing/use-reviewing';
import type { Drawings } from '../sheet/editor/use-live-text';
import { LookPanel } from '../last-look/LookPanel';
import { UnknownWords } from '../last-look/UnknownWords';
import { SweepPanel } from '../sweep/SweepPanel';
import { TalkContext, type TalkContextValue } from '../talk/context';
import { neighbouringQuery } from '../talk/neighbours';
import { TalkPage } from '../talk/TalkPage';
import { useAskedThread } from '../talk/use-asked-thread';
import { useConversation } from '../talk/use-conversation';
import { Keys } from './Keys';
import { TextPage } from './TextPage';
import { third, useGoingThrough } from './use-going-through';

// Looked at now and then, by few: fetched when it is.
const PeoplePage = lazy(() => import('../people/PeoplePage'));
const LastLookPage = lazy(() => import('../last-look/LastLookPage'));
const FairCopyPage = lazy(() => import('../fair-copy/FairCopyPage'));
const FiguresPage = lazy(() => import('../figures/FiguresPage'));
const ReportPage = lazy(() => import('../report/ReportPage'));
const PrintPage = lazy(() => import('../print/PrintPage'));
const DraftsPage = lazy(() => import('../drafts/DraftsPage'));

interface Props {
  drawings: Drawings;
  hand: Hand;
  threads: readonly Thread[];
  /** Whether the threads are here. */
  fetched: boolean;
  mayGoBack: boolean;
  /** Shows folded changes for the moment. */
  unfold(changes: string[]): void;
  send: ReturnType<typeof useDeciding>['decide'];
}

/** Finding stands open while the text is shown. */
function Finding() {
  const opened = useOpened();
  const { view } = useStore(opened.sheet);
  const { page } = useLooking();
  const finding = useStore(opened.panels, (all) => all.has('find'));
  useCommands(page === 'text' ? { find: () => show(opened, 'find') } : {});
  return finding && view && page === 'text' ? <SweepPanel view={view} /> : null;
}

/** The last look beside the text, or below it where there is no room; its key opens and closes it. */
function LookBelow() {
  const opened = useOpened();
  const { page, look, setLook } = useLooking();
  const width = useWidth();
  const open = useStore(opened.panels, (all) => all.has('look'));
  useCommands({
    'last look': () => {
      if (page !== 'text') void opened.toPage('text');
      // What it finds is set off where the marks are.
      if (!open && look.reading !== 'marked') setLook({ ...look, reading: 'marked' });
      show(opened, 'look', !open || page !== 'text');
      if (open && page === 'text') opened.toText();
    },
  });
  return open && page === 'text' && !isAtLeast(width, 'middle') ? <LookPanel /> : null;
}

/** Going to the words of a row of the ledger: of a decided change to where they were. */
function useGoingToRows(): (row: Row) => void {
  const { info, goTo, toPage, toText, focus } = useOpened();
  return useHandler(async ({ id, pending, at: was }: Row) => {
    const place = pending
      ? was
      : await request<{ at: number }>('GET', `/manuscripts/${info.id}/ledger/${id}/place`).then(
          (answer) => answer.at,
          () => was,
        );
    await toPage('text');
    requestAnimationFrame(() => {
      goTo(place + 1);
      focus.set({ change: pending ? id : null, thread: null, at: null });
      toText();
    });
  });
}

/** The text, its ledger and its talk, with everything that goes through changes and threads. */
export function TalkedPages({ drawings, hand, threads, fetched, mayGoBack, unfold, send }: Props) {
  const { sheet, focus, say, toText, toPage } = useOpened();
  const { page } = useLooking();
  const { inLens } = useReviewed();
  const focused = useStore(focus);
  const ledgerScroll = useRef(0);
  const through = useGoingThrough(send);
  const { current } = through;
  const bar = through.active && page === 'text';
  const at: Focus = useMemo(
    () => (bar && current && !focused.thread ? { change: current.id, thread: null, at: null } : focused),
    [bar, current, focused],
  );

  const conversation = useConversation({ threads, focused: focused.thread });
  const { talk, wordsNow, invite, places, lost, shown, outside } = conversation;
  const bringThread = useHandler((id: string) => {
    const { view, scroller } = sheet.get();
    const first = places.get(id)?.[0];
    if (view && scroller && first) bring(view, scroller, Math.max(1, first.from), scroller.clientHeight * third);
    focus.set({ ...nothingInFocus, thread: id });
  });
  const goTo = useHandler((id: string) => {
    if (page === 'text') return bringThread(id);
    void toPage('text').then(() => requestAnimationFrame(() => bringThread(id)));
  });
  const laid = useStore(sheet, ({ view, scroller }) => view !== null && scroller !== null);
  useAskedThread(fetched && laid ? threads : null, goTo);
  const context = useMemo(
    (): TalkContextValue => ({ talk, wordsNow, places, lost, invite, goTo }),
    [talk, wordsNow, places, lost, invite, goTo],
  );
  const queries = useMemo(() => conversation.inLens.flatMap(openQueries).length, [conversation.inLens]);
  const goToQuery = (direction: 1 | -1) => {
    const next = neighbouringQuery(shown, focused.thread, direction);
    if (next === null) say('Nobody in this lens owes an answer.');
    else goTo(next);
  };
  const onFocus = useHandler((next: Focus) => {
    focus.set(next);
    if (bar && next.change && inLens.some(({ id }) => id === next.change)) through.goTo(next.change);
  });
  const goToRow = useGoingToRows();

  return (
    <TalkContext value={context}>
      <TextPage
        {...{ drawings, hand, threads, shown }}
        begunAt={talk.begun?.from ?? null}
        hidden={page !== 'text'}
        noSlip={bar}
        focused={at}
        onFocus={onFocus}
        onUnfold={unfold}
      />
      {page === 'ledger' && <Ledger threads={threads} scroll={ledgerScroll} onGoTo={goToRow} />}
      <Finding />
      <LookBelow />
      {page === 'text' && <UnknownWords />}
      {bar && (
        <ReadThroughBar
          through={stepping(through, () => focus.set(nothingInFocus))}
          queries={queries}
          onQuery={goToQuery}
          onText={through.toWords}
          onEnd={() => {
            through.leave();
            through.toWords();
            toText();
          }}
        />
      )}
      {page === 'text' && !bar && <Foot mayGoBack={mayGoBack} threadsOutside={outside} />}
      {page === 'talk' && (
        <TalkPage threads={conversation.inLens} outside={threads.length - conversation.inLens.length} />
      )}
      {page === 'drafts' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <DraftsPage />
        </Suspense>
      )}
      {page === 'last-look' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <LastLookPage threads={threads} />
        </Suspense>
      )}
      {page === 'fair-copy' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <FairCopyPage threads={threads} />
        </Suspense>
      )}
      {page === 'report' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <ReportPage threads={conversation.inLens} />
        </Suspense>
      )}
      {page === 'print' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <PrintPage threads={conversation.inLens} />
        </Suspense>
      )}
      {page === 'figures' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <FiguresPage threads={conversation.inLens} />
        </Suspense>
      )}
      {page === 'people' && (
        <Suspense fallback={<LinearProgress aria-label="One moment" />}>
          <PeoplePage />
        </Suspense>
      )}
      <Keys />
    </TalkContext>
  );
}
