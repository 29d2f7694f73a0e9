import { Button } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { TextSelection } from 'prosemirror-state';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import {
  alikeKey,
  everything,
  isEverything,
  lensToQuery,
  openQueries,
  remarkOf,
  sectionsOf,
  type Change,
  type Lens,
  type Verdict,
} from '@tea-pencil/core';
import { request } from '../api/client';
import type { Self } from '@tea-pencil/wire';
import { mayAtLeast, useThreads, type ManuscriptInfo } from '../api/queries';
import { useHandler } from '../kit/use-handler';
import { changeAtCaret } from '../sheet/editor/Editor';
import { Ledger } from '../ledger/Ledger';
import type { Row } from '../ledger/rows';
import type { LiveText, Snapshot } from '../live/live-text';
import { bring } from '../presence/use-read-along';
import { ReadThroughBar } from '../read-through/ReadThroughBar';
import { stepping, useReadThrough } from '../read-through/use-read-through';
import type { Drawing } from '../reviewing/drawing';
import { inReading, useReviewing, useShowAll } from '../reviewing/use-reviewing';
import type { LeftAt, Look, ReadAs } from '@tea-pencil/wire';
import { SweepPanel } from '../sweep/SweepPanel';
import { TalkContext } from '../talk/context';
import { neighbouringQuery } from '../talk/neighbours';
import { TalkPage } from '../talk/TalkPage';
import { useConversation } from '../talk/use-conversation';
import { useAskedThread } from '../talk/use-asked-thread';
import type { OwnHues } from '../theme/hues';
import { Foot } from '../deciding/Foot';
import { Keys } from './Keys';
import type { Page } from '../opened/page';
import type { Focus } from '../sheet/move-style';
import { Table } from './TextPage';
import { useDeciding } from '../deciding/use-deciding';

interface Props {
  info: ManuscriptInfo;
  me: Self;
  text: LiveText;
  drawing: Drawing;
  snapshot: Snapshot;
  page: Page;
  lens: Lens;
  onLens(lens: Lens): void;
  onLensOpen(open: boolean): void;
  look: Look;
  onLook(look: Look): void;
  leftAt: LeftAt | null | undefined;
  onLeft(left: LeftAt): void;
  ownHues: OwnHues;
  mayWrite: boolean;
  mayInk: boolean;
  view: EditorView | null;
  scroller: HTMLElement | null;
  onView(view: EditorView | null): void;
  onScroller(element: HTMLElement | null): void;
  onPeople(): void;
  nameOf(person: string): string;
  onGoTo(pos: number): void;
  say(sentence: string): void;
  /** Says what was decided, with a way to take it back. */
  onDecided(sentence: string, decision: string): void;
}

const nobody: ReadonlySet<string> = new Set();
const nothing: Focus = { change: null, thread: null, at: null };
const noThreads: never[] = [];
/** How far below the top of the window the change stands that one is at, as a part of its height. */
const third = 0.36;

/** The text and its ledger, and everything that goes through its changes. */
export function Working(props: Props) {
  const { info, me, text, drawing, snapshot, page, lens, onLens, onLensOpen, look, onLook, leftAt, onLeft } = props;
  const { ownHues, mayWrite, mayInk, view, scroller, onView, onScroller, onPeople } = props;
  const { nameOf, onGoTo, say, onDecided } = props;
  const { doc } = snapshot.state!;
  const navigate = useNavigate();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const query = useThreads(info.id);
  const threads = query.data ?? noThreads;
  const [focused, setFocused] = useState(nothing);
  const [finding, setFinding] = useState(false);
  const [keysOpen, setKeysOpen] = useState(false);
  const [opened, setOpened] = useState(nobody);
  const ledgerScroll = useRef(0);
  const mayDecide = mayAtLeast(info.role, 'decider');
  const mayRemark = mayAtLeast(info.role, 'remarker');

  const { settling, decide: send } = useDeciding(text, onDecided);
  const reviewing = useReviewing({ info, doc, threads, lens, look, settling, opened });
  const { inLens } = reviewing;
  const { showAll, mayGoBack } = useShowAll(lens, look, (nextLens, nextLook) => {
    if (lensToQuery(nextLens) !== lensToQuery(lens)) onLens(nextLens);
    setOpened(nobody);
    onLook(nextLook);
  });
  const focusThread = useCallback((thread: string | null) => setFocused({ ...nothing, thread }), []);
  const signs = look.talk === 'signs';
  const conversation = useConversation({
    info,
    me: me.id,
    text,
    doc,
    view,
    reviewing,
    threads,
    focused: focused.thread,
    signs,
    nameOf,
    say,
    onFocus: focusThread,
  });
  const { talk, places } = conversation;
  /** Brings a thread into sight and into focus. */
  const goToThread = useHandler((id: string) => {
    const at = places.get(id)?.[0];
    if (view && scroller && at) bring(view, scroller, Math.max(1, at.from), scroller.clientHeight * third);
    setFocused({ ...nothing, thread: id });
  });
  const queries = useMemo(() => conversation.inLens.flatMap(openQueries).length, [conversation.inLens]);
  const goToQuery = (direction: 1 | -1) => {
    const next = neighbouringQuery(conversation.shown, focused.thread, direction);
    if (next === null) say('Nobody in this lens owes an answer.');
    else goToThread(next);
  };
  const toThread = async ({ id }: { id: string }) => {
    await navigate({ pathname: `/m/${info.id}`, search: location.search });
    requestAnimationFrame(() => goToThread(id));
  };
  useAskedThread(query.isSuccess && view && scroller ? threads : null, goToThread, say);

  const decide = useCallback(
    (verdict: Verdict, ids: string[]) => {
      setFocused(nothing);
      view?.focus();
      void send(verdict, ids);
    },
    [view, send],
  );
  const through = useReadThrough({
    changes: inLens,
    left: leftAt,
    onKeep: onLeft,
    nameOf,
    caret: () => text.snapshot().state!.selection.from,
    onDecide: (verdict, ids) => send(verdict, ids, false),
    onTakeBack: (decision) => text.takeBack(decision),
    say,
  });
  const { current } = through;
  const bar = through.active && page === 'text';
  const at: Focus = useMemo(
    () => (bar && current && !focused.thread ? { change: current.id, thread: null, at: null } : focused),
    [bar, current, focused],
  );

  // The change one is at is brought into sight, wherever the text is scrolled to.
  const shownAt = current?.id;
  useLayoutEffect(() => {
    const change = bar && current;
    if (!change || !view || !scroller) return;
    const { state } = text.snapshot();
    const from = inReading(state!.doc, change.ranges[0]!.from + 1, look.reading);
    const { top } = view.coordsAtPos(Math.min(from, view.state.doc.content.size));
    const box = scroller.getBoundingClientRect();
    if (top < box.top + 70 || top > box.bottom - 90) bring(view, scroller, from, box.height * third);
    // Letters that others write move it; it is not brought again for that.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [bar, shownAt, view, scroller, look.reading]);

  const barFocus = () => document.querySelector<HTMLElement>('.through')?.focus();
  const toText = () => {
    const change = current;
    if (view && change && look.reading === 'marked') {
      const { tr } = text.snapshot().state!;
      text.dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(change.ranges[0]!.from + 1))));
    }
    view?.focus();
  };
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const { key, target } = event;
      const writing = target instanceof HTMLElement && target.closest('input, textarea, [contenteditable=true]');
      if (key === '?' && !writing) setKeysOpen(true);
      else if (key === 'F3' && page === 'text') setFinding(true);
      else if (key === 'F8') {
        if (page !== 'text') void navigate({ pathname: `/m/${info.id}`, search: location.search });
        if (!through.active) through.begin();
        else if (document.activeElement?.closest('.through')) toText();
        else {
          const here = changeAtCaret(text.snapshot().state ?? undefined);
          if (here && view?.hasFocus() && inLens.some(({ id }) => id === here)) through.goTo(here);
          barFocus();
        }
      } else return;
      event.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  });

  /** Whether someone goes to Marked in order to write. */
  const writeNext = useRef(false);
  useEffect(() => {
    if (look.reading !== 'marked' || !writeNext.current) return;
    writeNext.current = false;
    view?.focus();
  }, [look.reading, view]);
  const offerMarked = () => {
    enqueueSnackbar(
      look.reading === 'fair'
        ? 'This is the fair reading; nothing can be written in it.'
        : 'This is the before reading; nothing can be written in it.',
      {
        key: 'reading',
        preventDuplicate: true,
        action: (key) => (
          <Button
            color="inherit"
            size="small"
            onClick={() => {
              closeSnackbar(key);
              writeNext.current = true;
              onLook({ ...look, reading: 'marked' });
            }}
          >
            Write in Marked
          </Button>
        ),
      },
    );
  };
  const onReading = (reading: ReadAs) => onLook({ ...look, reading });
  const goToRow = async ({ id, pending, at: was }: Row) => {
    const place = pending
      ? was
      : await request<{ at: number }>('GET', `/manuscripts/${info.id}/ledger/${id}/place`).then(
          (answer) => answer.at,
          () => was,
        );
    await navigate({ pathname: `/m/${info.id}`, search: location.search });
    requestAnimationFrame(() => {
      onGoTo(place + 1);
      setFocused({ change: pending ? id : null, thread: null, at: null });
      view?.focus();
    });
  };
  const lookAtAlike = (change: Change) => onLens({ ...everything, alike: alikeKey(change) });
  const onFocus = useHandler((focus: Focus) => {
    setFocused(focus);
    if (bar && focus.change && inLens.some(({ id }) => id === focus.change)) through.goTo(focus.change);
  });
  const newLook = useHandler((next: Look) => {
    setOpened(nobody);
    onLook(next);
  });
  const unfold = useHandler((changes: string[]) => {
    setOpened(new Set([...opened, ...changes]));
    setFocused({ change: changes[0]!, thread: null, at: null });
  });
  const offer = useHandler(offerMarked);
  const find = useCallback(() => setFinding(true), []);
  const sayOn = (change: Change, words: string) => talk.sayOn(change, { body: remarkOf(words) });
  const sections = useMemo(() => (page === 'talk' ? sectionsOf(doc) : null), [page, doc]);

  return (
    <TalkContext value={conversation.context}>
      <Table
        info={info}
        me={me}
        text={text}
        drawing={drawing}
        snapshot={snapshot}
        reviewing={reviewing}
        threads={threads}
        conversation={conversation}
        onGoToThread={goToThread}
        hidden={page !== 'text'}
        noSlip={bar}
        mayWrite={mayWrite}
        mayRemark={mayRemark}
        mayDecide={mayDecide}
        view={view}
        scroller={scroller}
        focused={at}
        ownHues={ownHues}
        onFocus={onFocus}
        onView={onView}
        onScroller={onScroller}
        onLook={newLook}
        onUnfold={unfold}
        onWriteInReading={offer}
        onPeople={onPeople}
        onFind={find}
        onAlike={lookAtAlike}
        nameOf={nameOf}
        onGoTo={onGoTo}
        say={say}
        onDecide={decide}
      />
      {page === 'ledger' && (
        <Ledger
          doc={doc}
          info={info}
          me={me.id}
          lens={lens}
          changes={reviewing.changes}
          threads={threads}
          mayDecide={mayDecide}
          scroll={ledgerScroll}
          onDecide={(verdict, ids) => void send(verdict, ids)}
          onTakeBack={(decision) => void text.takeBack(decision)}
          onGoTo={(row) => void goToRow(row)}
        />
      )}
      {finding && view && page === 'text' && (
        <SweepPanel
          text={text}
          view={view}
          mayWrite={mayWrite}
          mayInk={mayInk}
          onClose={() => setFinding(false)}
          say={say}
        />
      )}
      {bar && (
        <ReadThroughBar
          doc={doc}
          info={info}
          me={me.id}
          through={stepping(through, () => setFocused(nothing))}
          queries={queries}
          onQuery={goToQuery}
          changes={inLens}
          mayDecide={mayDecide}
          mayRemark={mayRemark}
          whole={isEverything(lens)}
          onComment={sayOn}
          onLens={() => onLensOpen(true)}
          onAlike={lookAtAlike}
          onReading={onReading}
          onKeys={() => setKeysOpen(true)}
          onText={toText}
          onEnd={() => {
            through.leave();
            toText();
          }}
        />
      )}
      {page === 'text' && !bar && (
        <Foot
          text={text}
          reviewing={reviewing}
          info={info}
          mayDecide={mayDecide}
          mayGoBack={mayGoBack}
          onShowAll={showAll}
          onDecide={decide}
          onReadThrough={through.begin}
          huesSay={ownHues.says}
          threadsOutside={conversation.outside}
          leftOff={!!leftAt && leftAt.done + leftAt.skipped.length > 0}
        />
      )}
      {page === 'talk' && (
        <TalkPage
          threads={conversation.inLens}
          outside={threads.length - conversation.inLens.length}
          placeOf={({ id, whole }) => {
            const at = places.get(id)?.[0]?.from ?? 0;
            return whole
              ? ''
              : [`¶ ${doc.resolve(Math.min(at, doc.content.size)).index(0) + 1}`, sections?.(at).at(-1)]
                  .filter(Boolean)
                  .join(', ');
          }}
          onGo={(thread) => void toThread(thread)}
          owing={lens.owing}
          onOwing={(owing) => onLens({ ...lens, owing })}
        />
      )}
      <Keys open={keysOpen} onClose={() => setKeysOpen(false)} />
    </TalkContext>
  );
}
