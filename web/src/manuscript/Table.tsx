import { Box } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { TextSelection, type Command, type NodeSelection } from 'prosemirror-state';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { endsOf, spaceTrouble, anchors, describeChange, type Verdict } from '@tea-pencil/core';
import { mayAtLeast, useThreads, whoIs, type Account, type ManuscriptInfo } from '../api/queries';
import { useMode } from '../app/App';
import { Editor } from '../editor/Editor';
import { Pictures } from '../editor/pictures';
import type { LiveText, Snapshot } from '../live/live-text';
import { EditMargin } from '../margins/EditMargin';
import { useHeights } from '../margins/use-heights';
import { TalkMargin } from '../talk/TalkMargin';
import { useTalk } from '../talk/use-talk';
import { decidedWith, endOf, warningOf } from './around-change';
import { changesOf } from './changes-of';
import { SweepPanel } from '../sweep/SweepPanel';
import { Foot } from './Foot';
import { hasPicture, PictureCard } from './PictureCard';
import { anchorSheet, focusSheet, moveSheet, type Focus } from './sheets';
import { Slip } from './Slip';
import { toolFacts, Toolbar } from './Toolbar';
import { Spine } from '../presence/Spine';
import { nonce } from '../theme/nonce';
import { said } from './time';

interface Props {
  info: ManuscriptInfo;
  me: Account;
  text: LiveText;
  snapshot: Snapshot;
  mayWrite: boolean;
  mayInk: boolean;
  view: EditorView | null;
  scroller: HTMLElement | null;
  onView(view: EditorView | null): void;
  onScroller(element: HTMLElement | null): void;
  nameOf(person: string): string;
  onGoTo(pos: number): void;
  say(sentence: string): void;
  /** Says what was decided, with a way to take it back. */
  onDecided(sentence: string, decision: string): void;
}

/** The sheet with its two margins, and the slip of the change in focus. */
export function Table(props: Props) {
  const { info, me, text, snapshot, mayWrite, mayInk, view, scroller, nameOf, say } = props;
  const { onView, onScroller, onGoTo, onDecided } = props;
  const state = snapshot.state!;
  const { doc } = state;
  const { mode } = useMode();
  const threads = useThreads(info.id);
  const [sheet, setSheet] = useState<HTMLElement | null>(null);
  const [focused, setFocused] = useState<Focus>({ change: null, thread: null, at: null });
  const [finding, setFinding] = useState(false);
  const [pointed, setPointed] = useState<{ text: string; x: number; y: number } | null>(null);

  const pictures = useMemo(() => new Pictures(text, say), [text, say]);
  const changes = changesOf(doc);
  const places = useMemo(() => anchors(doc), [doc]);
  const mayDecide = mayAtLeast(info.role, 'decider');
  const mayRemark = mayAtLeast(info.role, 'remarker');
  const shown = useMemo(
    () => (threads.data ?? []).filter(({ resolved, id }) => !resolved || id === focused.thread),
    [threads.data, focused.thread],
  );

  const focusThread = useCallback((thread: string | null) => setFocused({ change: null, thread, at: null }), []);
  const focusChange = useCallback(
    (change: string | null, at: number | null = null) => setFocused({ change, thread: null, at }),
    [],
  );
  const talk = useTalk(info.id, text, mayRemark, say, focusThread);
  // A change that has been decided, here or elsewhere, closes its slip.
  const change = focused.change ? changes.find(({ id }) => id === focused.change) : undefined;
  const heights = useHeights({
    view,
    scroller,
    sheet,
    changes,
    places,
    focused: change,
    at: focused.at,
    picture: mayWrite && hasPicture(state) ? state.selection.from : null,
    begun: talk.begun?.from ?? null,
  });

  const decide = useCallback(
    async (verdict: Verdict, ids: string[]) => {
      focusChange(null);
      view?.focus();
      const decision = await text.decide(ids, verdict);
      const done = { accept: 'Accepted', reject: 'Rejected' }[verdict];
      if (decision) onDecided(`${done} ${ids.length === 1 ? 'one change' : `${ids.length} changes`}.`, decision);
    },
    [focusChange, view, text, onDecided],
  );
  const together = change ? decidedWith(doc, change, changes) : [];
  const select = (from: number, to: number) => {
    const { tr } = text.snapshot().state!;
    const place = (pos: number) => tr.doc.resolve(Math.min(pos, tr.doc.content.size));
    text.dispatch(tr.setSelection(TextSelection.between(place(from), place(to))).scrollIntoView());
  };
  const commentOn = ({ from, to }: { from: number; to: number }) => {
    select(from, to);
    talk.begin();
  };
  const find = useCallback(() => setFinding(true), []);
  const focusEnd = useCallback(
    (id: string, old: boolean) => {
      const { doc: now } = text.snapshot().state!;
      const one = changesOf(now).find((each) => each.id === id);
      const ends = one && endsOf(now, one);
      focusChange(id, ends ? (old ? ends.from.from : ends.to.from) : null);
    },
    [text, focusChange],
  );
  const goTo = (at: number) => {
    select(at + 1, at + 1);
    focusChange(focused.change, at);
  };
  const point = (event: React.MouseEvent) => {
    const marked = (event.target as HTMLElement).closest<HTMLElement>('[data-change]');
    const over = marked && changes.find(({ id }) => id === marked.dataset.change);
    if (!over) return setPointed(null);
    const words = `${nameOf(over.author)} ${describeChange(over)} · ${said(over.date)}`;
    setPointed({ text: words, x: event.clientX, y: event.clientY });
  };

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F3') return;
      event.preventDefault();
      find();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [find]);

  const ends = change ? endsOf(doc, change) : null;
  const otherEnd = ends && endOf(doc, ends, focused.at ?? ends.to.from, goTo);
  const trouble = change && mayDecide ? spaceTrouble(doc, change, changes) : null;
  const warning = trouble && warningOf(trouble, nameOf(trouble.other.author));
  const run = (command: Command) => {
    if (!view) return;
    command(view.state, view.dispatch, view);
    view.focus();
  };

  const hand = mayWrite ? snapshot.hand : 'closed';
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box component="main" ref={onScroller} sx={{ flex: 1, minWidth: 0, overflow: 'auto', position: 'relative' }}>
          <style nonce={nonce}>{anchorSheet(shown, info, mode) + moveSheet(changes) + focusSheet(focused)}</style>
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: 'minmax(196px, 1fr) 640px minmax(300px, 1.7fr)',
              minWidth: 1136,
            }}
          >
            <Box sx={{ gridColumn: 2, position: 'sticky', top: 0, zIndex: 6, bgcolor: 'background.default' }}>
              <Toolbar
                view={view}
                {...toolFacts(state)}
                pictures={pictures}
                mayWrite={mayWrite}
                mayRemark={mayRemark}
                onComment={talk.begin}
                onFind={find}
              />
              <div className={`edge ${hand === 'closed' ? 'closed' : `in-${hand}`}`} />
            </Box>
            <Box sx={{ gridColumn: 1, gridRow: 2 }}>
              <EditMargin
                ticks={heights.ticks}
                notes={heights.notes}
                focused={focused.change}
                nameOf={nameOf}
                onFocus={focusEnd}
              />
            </Box>
            <Box
              ref={setSheet}
              className={`sheet in-${hand}`}
              sx={{ gridColumn: 2, gridRow: 2, position: 'relative' }}
              onMouseMove={point}
              onMouseLeave={() => setPointed(null)}
            >
              <Editor
                text={text}
                pictures={pictures}
                mayWrite={mayWrite}
                nameOf={nameOf}
                onView={onView}
                onPoint={(id, thread, at) => setFocused({ change: id, thread, at })}
              />
              {view && heights.picture && hasPicture(state) && (
                <PictureCard
                  key={(state.selection as NodeSelection).node.attrs.asset as string}
                  state={state}
                  view={view}
                  pictures={pictures}
                  {...heights.picture}
                  run={run}
                />
              )}
              {change && heights.slip && (
                <Slip
                  doc={doc}
                  change={change}
                  name={nameOf(change.author)}
                  mayDecide={mayDecide}
                  own={whoIs(info, change.author) === me.id}
                  mayRemark={mayRemark}
                  {...heights.slip}
                  together={together}
                  otherEnd={otherEnd}
                  warning={warning}
                  onDecide={(verdict, ids = [change.id]) => void decide(verdict, ids)}
                  onClose={() => focusChange(null)}
                  onComment={() => commentOn(change.ranges[0]!)}
                />
              )}
            </Box>
            <Box sx={{ gridColumn: 3, gridRow: 2, pl: 3, pr: 4, maxWidth: 400 }}>
              <TalkMargin
                threads={shown}
                heights={heights.threads}
                people={info.people}
                focused={focused.thread}
                mayRemark={mayRemark}
                begun={talk.begun?.quote ?? null}
                begunAt={heights.begun}
                onFocus={focusThread}
                onBegin={talk.keep}
                onLeave={talk.leave}
                onReply={talk.reply}
                onResolve={talk.resolve}
              />
            </Box>
          </Box>
          {pointed && !change && (
            <Box
              role="tooltip"
              sx={{
                position: 'fixed',
                left: pointed.x + 10,
                top: pointed.y + 16,
                zIndex: 30,
                px: 1,
                py: 0.4,
                bgcolor: 'text.primary',
                color: 'background.paper',
                fontSize: 12,
                borderRadius: 0.5,
                pointerEvents: 'none',
                maxWidth: 360,
              }}
            >
              {pointed.text}
            </Box>
          )}
        </Box>
        <Spine
          text={text}
          changes={changes}
          size={doc.content.size}
          scroller={scroller}
          people={info.people}
          me={me.id}
          nameOf={nameOf}
          onGoTo={onGoTo}
        />
      </Box>
      {finding && view && (
        <SweepPanel
          text={text}
          view={view}
          mayWrite={mayWrite}
          mayInk={mayInk}
          onClose={() => setFinding(false)}
          say={say}
        />
      )}
      <Foot text={text} changes={changes} info={info} mayDecide={mayDecide} onDecide={decide} />
    </>
  );
}
