import { Box, Button, Tooltip } from '@mui/material';
import type { EditorView } from 'prosemirror-view';
import { TextSelection, type Command, type NodeSelection } from 'prosemirror-state';
import { memo, useCallback, useLayoutEffect, useMemo, useState } from 'react';
import {
  anchors,
  describeChange,
  endsOf,
  spaceTrouble,
  type Change,
  type Range,
  type Thread,
  type Verdict,
} from '@tea-pencil/core';
import { whoIs, type Account, type ManuscriptInfo } from '../api/queries';
import { useMode } from '../app/App';
import { Editor } from '../editor/Editor';
import { Pictures } from '../editor/pictures';
import type { LiveText, Snapshot } from '../live/live-text';
import { EditMargin } from '../margins/EditMargin';
import { useHeights } from '../margins/use-heights';
import { Spine } from '../presence/Spine';
import type { Drawing } from '../reviewing/drawing';
import { FlowMenu } from '../reviewing/FlowMenu';
import { readingOf, type Reviewing } from '../reviewing/use-reviewing';
import type { Look } from '../reviewing/use-view';
import { TalkMargin } from '../talk/TalkMargin';
import type { useTalk } from '../talk/use-talk';
import { kindHue, type OwnHues } from '../theme/hues';
import { nonce } from '../theme/nonce';
import { decidedWith, endOf, warningOf } from './around-change';
import { ChangeMenu, useChangeMenu } from './ChangeMenu';
import { hasPicture, PictureCard } from './PictureCard';
import { Pointed, usePointed } from './Pointed';
import { anchorSheet, focusSheet, moveSheet, type Focus } from './sheets';
import { Slip } from './Slip';
import { TakeAway } from './TakeAway';
import { toolFacts, Toolbar } from './Toolbar';

interface Props {
  info: ManuscriptInfo;
  me: Account;
  text: LiveText;
  drawing: Drawing;
  snapshot: Snapshot;
  reviewing: Reviewing;
  threads: readonly Thread[];
  talk: ReturnType<typeof useTalk>;
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

/** Where threads are: beside their words, or beside the change they are about. */
function placesOf(shown: ReturnType<typeof anchors>, threads: readonly Thread[], changes: readonly Change[]) {
  const about = threads.filter(({ change }) => change !== undefined);
  if (!about.length) return shown;
  const places = new Map<string, Range[]>(shown);
  const byId = new Map(changes.map((change) => [change.id, change]));
  for (const { id, change } of about) {
    const found = byId.get(change!);
    if (found) places.set(id, found.ranges);
  }
  return places;
}

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
  const { info, me, text, drawing, snapshot, reviewing, threads, talk, hidden, noSlip } = props;
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
  const places = useMemo(() => placesOf(anchors(shownDoc), threads, changes), [shownDoc, threads, changes]);
  const shownThreads = useMemo(
    () => threads.filter(({ resolved, id }) => !resolved || id === focused.thread),
    [threads, focused.thread],
  );

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
    places,
    focused: noSlip && look.notes === 'all' ? undefined : change,
    at: focused.at,
    picture: mayWrite && marked && hasPicture(state) ? state.selection.from : null,
    begun: talk.begun?.from ?? null,
    hidden,
  });
  useLayoutEffect(() => {
    if (view) drawing.draw(view, reviewing.unusual, look.flow, focused.change);
  }, [view, drawing, reviewing.unusual, look.flow, focused.change]);

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
  const comments = slip ? threads.filter((one) => one.change === slip.id).flatMap((one) => one.comments) : [];

  const hand = !mayWrite || !marked ? 'closed' : snapshot.hand;
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: hidden ? 'none' : 'flex' }}>
      <Box component="main" ref={onScroller} sx={{ flex: 1, minWidth: 0, overflow: 'auto', position: 'relative' }}>
        <style nonce={nonce}>
          {anchorSheet(shownThreads, info, mode) +
            moveSheet(changes, ownHues.says === 'kind' ? kindHue('move', mode) : null) +
            focusSheet(focused)}
        </style>
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
            onMouseMove={point}
            onMouseLeave={point}
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
                comments={comments}
                nameOf={nameOf}
                onDecide={(verdict, ids = [slip.id]) => onDecide(verdict, ids)}
                onAlike={() => onAlike(slip)}
                onClose={() => focusChange(null)}
                onSay={(words) => talk.sayOn(slip, words)}
              />
            )}
          </Box>
          <Box sx={{ gridColumn: 3, gridRow: 2, pl: look.outline ? 2 : 3, pr: look.outline ? 1.5 : 4, maxWidth: 400 }}>
            <TalkMargin
              threads={shownThreads}
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
        {pointed && !change && <Pointed {...pointed} />}
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
