import { Box, Button, Tooltip } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { TextSelection, type Command, type NodeSelection } from 'prosemirror-state';
import { memo, useCallback, useLayoutEffect, useMemo, useState } from 'react';
import {
  describeChange,
  endsOf,
  spaceTrouble,
  type Change,
  type Thread,
  type Tint,
  type Verdict,
} from '@tea-pencil/core';
import type { Self } from '@tea-pencil/wire';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import { useMode } from '../theme/mode';
import { Editor } from '../sheet/editor/Editor';
import { Pictures } from '../sheet/editor/pictures';
import type { LiveText, Snapshot } from '../live/live-text';
import { EditMargin } from '../sheet/margins/EditMargin';
import { useHeights } from '../sheet/margins/use-heights';
import { Spine } from '../presence/Spine';
import type { Drawing } from '../reviewing/drawing';
import { FlowMenu } from '../reviewing/FlowMenu';
import { readingOf, type Reviewing } from '../reviewing/use-reviewing';
import type { Look } from '@tea-pencil/wire';
import { TalkMargin } from '../talk/TalkMargin';
import { SignPopover, useSigns } from '../talk/SignPopover';
import type { Conversation } from '../talk/use-conversation';
import { kindHue, type OwnHues } from '../theme/hues';
import { nonce } from '../theme/nonce';
import { decidedWith, endOf, warningOf } from '../deciding/around-change';
import { ChangeMenu, useChangeMenu } from '../deciding/ChangeMenu';
import { hasPicture, PictureCard } from '../sheet/PictureCard';
import { Pointed, usePointed } from '../sheet/Pointed';
import { moveSheet, type Focus } from '../sheet/move-style';
import { Slip } from '../deciding/Slip';
import { TakeAway } from '../sheet/tools/TakeAway';
import { toolFacts, Toolbar } from '../sheet/tools/Toolbar';

interface Props {
  info: ManuscriptInfo;
  me: Self;
  text: LiveText;
  drawing: Drawing;
  snapshot: Snapshot;
  reviewing: Reviewing;
  threads: readonly Thread[];
  conversation: Conversation;
  onGoToThread(thread: string): void;
  /** Whether another page is shown. */
  hidden: boolean;
  /** While the bar at the foot is deciding, no slip covers the text. */
  noSlip: boolean;
  mayWrite: boolean;
  mayRemark: boolean;
  mayDecide: boolean;
  view: EditorView | null;
  scroller: HTMLElement | null;
  focused: Focus;
  ownHues: OwnHues;
  onFocus(focus: Focus): void;
  onView(view: EditorView | null): void;
  onScroller(element: HTMLElement | null): void;
  onLook(look: Look): void;
  onUnfold(changes: string[]): void;
  onWriteInReading(): void;
  onPeople(): void;
  onFind(): void;
  onAlike(change: Change): void;
  nameOf(person: string): string;
  onGoTo(pos: number): void;
  say(sentence: string): void;
  onDecide(verdict: Verdict, ids: string[]): void;
}

const none: readonly Change[] = [];
const noThreads: readonly Thread[] = [];
const noPlaces: Conversation['places'] = new Map();

const PeopleButton = memo(function PeopleButton({ onPeople }: { onPeople(): void }) {
  return (
    <Tooltip title="Who may do what in this manuscript, and its settings">
      <Button color="inherit" onClick={onPeople} sx={{ fontWeight: 400, color: 'text.secondary' }}>
        People
      </Button>
    </Tooltip>
  );
});

/** The sheet with its two margins, and the slip of the change in focus. */
export function Table(props: Props) {
  const { info, me, text, drawing, snapshot, reviewing, threads, conversation, hidden, noSlip } = props;
  const { talk, places, shown: shownThreads } = conversation;
  const { onGoToThread } = props;
  const highlight = useCallback((tint: Tint) => void talk.highlight(tint), [talk]);
  const { mayWrite, mayRemark, mayDecide, view, scroller, focused, ownHues } = props;
  const { onFocus, onView, onScroller, onLook, onUnfold, onWriteInReading, onPeople, onFind, onAlike } = props;
  const { nameOf, onGoTo, say, onDecide } = props;
  const state = snapshot.state!;
  const { doc } = state;
  const { look } = reviewing;
  const marked = look.reading === 'marked';
  const { mode } = useMode();
  const [sheet, setSheet] = useState<HTMLElement | null>(null);
  const pictures = useMemo(() => new Pictures(text, say), [text, say]);
  const changes = marked ? reviewing.shown : none;
  const shownDoc = readingOf(doc, look.reading);
  const signs = look.talk === 'signs';
  const signsAt = useSigns(signs && marked);

  const focusThread = useCallback((thread: string | null) => onFocus({ change: null, thread, at: null }), [onFocus]);
  const focusChange = useCallback(
    (change: string | null, at: number | null = null) => onFocus({ change, thread: null, at }),
    [onFocus],
  );
  // A change that has been decided, here or elsewhere, closes its slip.
  const change = marked && focused.change ? reviewing.changes.find(({ id }) => id === focused.change) : undefined;
  const heights = useHeights({
    view,
    doc: shownDoc,
    scroller,
    sheet,
    changes,
    folded: marked ? reviewing.folded : none,
    flow: look.flow,
    notes: look.notes,
    places: signs ? noPlaces : places,
    focused: noSlip && look.notes === 'all' ? undefined : change,
    at: focused.at,
    picture: mayWrite && marked && hasPicture(state) ? state.selection.from : null,
    begun: talk.begun?.from ?? null,
    hidden,
  });
  useLayoutEffect(() => {
    if (view) drawing.draw(view, reviewing.unusual, look.flow, focused.change);
  }, [view, drawing, reviewing.unusual, look.flow, focused.change]);
  useLayoutEffect(() => {
    if (view) drawing.talk.draw(view, shownThreads, focused.thread);
  }, [view, drawing, shownThreads, focused.thread]);

  const slip = noSlip ? undefined : change;
  const together = slip ? decidedWith(doc, slip, reviewing.inLens) : [];
  const select = (from: number, to: number) => {
    const { tr } = text.snapshot().state!;
    const place = (pos: number) => tr.doc.resolve(Math.min(pos, tr.doc.content.size));
    text.dispatch(tr.setSelection(TextSelection.between(place(from), place(to))).scrollIntoView());
  };
  const focusEnd = useCallback(
    (id: string, old: boolean) => {
      const { doc: now } = text.snapshot().state!;
      const one = reviewing.changes.find((each) => each.id === id);
      const ends = one && endsOf(now, one);
      focusChange(id, ends ? (old ? ends.from.from : ends.to.from) : null);
    },
    [text, reviewing.changes, focusChange],
  );
  const pointAt = useCallback(
    (id: string | null, thread: string | null, at: number | null) => onFocus({ change: id, thread, at }),
    [onFocus],
  );
  const showOutline = useCallback((outline: boolean) => onLook({ ...look, outline }), [look, onLook]);
  const goTo = (at: number) => {
    select(at + 1, at + 1);
    focusChange(focused.change, at);
  };
  const [pointed, point] = usePointed((id) => {
    const over = reviewing.changes.find((one) => one.id === id);
    return over && { name: nameOf(over.author), words: describeChange(over), date: over.date };
  });
  const menu = useChangeMenu(view, reviewing, marked && (mayDecide || mayWrite));

  const ends = slip ? endsOf(doc, slip) : null;
  const otherEnd = ends && endOf(doc, ends, focused.at ?? ends.to.from, goTo);
  const trouble = slip && mayDecide ? spaceTrouble(doc, slip, reviewing.changes) : null;
  const warning = trouble && warningOf(trouble, nameOf(trouble.other.author));
  const run = (command: Command) => {
    if (!view) return;
    command(view.state, view.dispatch, view);
    view.focus();
  };
  const about = slip ? threads.filter((one) => one.change === slip.id) : [];

  const toText = useCallback(() => {
    focusThread(null);
    view?.focus();
  }, [focusThread, view]);
  const hand = !mayWrite || !marked ? 'closed' : snapshot.hand;
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: hidden ? 'none' : 'flex' }}>
      <Box component="main" ref={onScroller} sx={{ flex: 1, minWidth: 0, overflow: 'auto', position: 'relative' }}>
        <style nonce={nonce}>{moveSheet(changes, ownHues.says === 'kind' ? kindHue('move', mode) : null)}</style>
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: look.outline
              ? 'minmax(170px, 1fr) 640px minmax(226px, 1.7fr)'
              : 'minmax(196px, 1fr) 640px minmax(300px, 1.7fr)',
            minWidth: look.outline ? 1036 : 1136,
          }}
        >
          <Box className="tools" sx={{ gridColumn: 1, justifyContent: 'flex-end', pr: 1.5 }}>
            <FlowMenu look={look} onLook={onLook} />
          </Box>
          <Box sx={{ gridColumn: 2, position: 'sticky', top: 0, zIndex: 6, bgcolor: 'background.default' }}>
            <Toolbar
              view={view}
              {...toolFacts(state)}
              pictures={pictures}
              mayWrite={mayWrite && marked}
              mayRemark={mayRemark}
              onComment={talk.begin}
              onWhole={talk.beginOnWhole}
              onHighlight={highlight}
              onFind={onFind}
            />
            <div className={`edge ${hand === 'closed' ? 'closed' : `in-${hand}`}`} />
          </Box>
          <Box className="tools" sx={{ gridColumn: 3, pl: 2 }}>
            <TakeAway id={info.id} text={text} />
            <PeopleButton onPeople={onPeople} />
          </Box>
          <Box sx={{ gridColumn: 1, gridRow: 2 }}>
            <EditMargin
              ticks={heights.ticks}
              notes={heights.notes}
              folds={heights.folds}
              focused={focused.change}
              nameOf={nameOf}
              onFocus={focusEnd}
              onUnfold={onUnfold}
            />
          </Box>
          <Box
            ref={setSheet}
            className={`sheet in-${hand}`}
            sx={{ gridColumn: 2, gridRow: 2, position: 'relative' }}
            onMouseMove={(event) => {
              point(event);
              signsAt.point(event);
            }}
            onMouseLeave={point}
            onClick={signsAt.click}
            onContextMenu={menu.open}
          >
            <Editor
              text={text}
              drawing={drawing}
              reading={look.reading}
              pictures={pictures}
              mayWrite={mayWrite}
              nameOf={nameOf}
              onView={onView}
              onPoint={pointAt}
              onWriteInReading={onWriteInReading}
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
            {slip && heights.slip && (
              <Slip
                key={slip.id}
                doc={doc}
                change={slip}
                name={nameOf(slip.author)}
                mayDecide={mayDecide}
                own={whoIs(info, slip.author) === me.id}
                mayRemark={mayRemark}
                {...heights.slip}
                together={together}
                otherEnd={otherEnd}
                warning={warning}
                threads={about}
                onDecide={(verdict, ids = [slip.id]) => onDecide(verdict, ids)}
                onAlike={() => onAlike(slip)}
                onClose={() => focusChange(null)}
              />
            )}
          </Box>
          <Box sx={{ gridColumn: 3, gridRow: 2, pl: look.outline ? 2 : 3, pr: look.outline ? 1.5 : 4, maxWidth: 400 }}>
            <TalkMargin
              threads={signs && !talk.begun ? noThreads : shownThreads}
              heights={heights.threads}
              focused={focused.thread}
              begunAt={heights.begun}
              onFocus={focusThread}
              onGo={onGoToThread}
              onText={toText}
            />
          </Box>
        </Box>
        {pointed && !change && <Pointed {...pointed} />}
        <SignPopover signs={signsAt} threads={shownThreads} />
        <ChangeMenu menu={menu} nameOf={nameOf} mayDecide={mayDecide} me={me.id} info={info} onDecide={onDecide} />
      </Box>
      <Spine
        text={text}
        doc={doc}
        changes={reviewing.inLens}
        places={places}
        threads={shownThreads}
        scroller={scroller}
        people={info.people}
        me={me.id}
        ownHues={ownHues}
        outline={look.outline}
        onOutline={showOutline}
        nameOf={nameOf}
        onGoTo={onGoTo}
      />
    </Box>
  );
}
