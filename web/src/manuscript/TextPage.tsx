import { Box, Button, Tooltip } from '@mui/material';
import { TextSelection, type NodeSelection } from 'prosemirror-state';
import { memo, useCallback, useLayoutEffect, useMemo, useState } from 'react';
import { describeChange, endsOf, spaceTrouble, type Change, type Range, type Thread } from '@tea-pencil/core';
import { useActs } from '../commands/acts';
import { titleOf } from '../commands/table';
import { decidedWith, endOf, warningOf } from '../deciding/around-change';
import { ChangeMenu, useChangeMenu } from '../deciding/ChangeMenu';
import { Slip } from '../deciding/Slip';
import { OneOfMany } from '../kit/ErrorBoundary';
import { useHandler } from '../kit/use-handler';
import { useStore } from '../kit/store';
import { isAtLeast, useWidth } from '../kit/width';
import type { Hand } from '../live/intents';
import { nothingInFocus, useDrawn, useLooking, useOpened, type Focus } from '../opened/opened';
import { LookPanel } from '../last-look/LookPanel';
import { Spine } from '../presence/Spine';
import { FlowMenu } from '../reviewing/FlowMenu';
import { readingOf } from '../reviewing/readings';
import { useReviewed } from '../reviewing/use-reviewing';
import { Editor } from '../sheet/editor/Editor';
import { Pictures } from '../sheet/editor/pictures';
import type { Drawings } from '../sheet/editor/use-live-text';
import { EditMargin } from '../sheet/margins/EditMargin';
import { useHeights } from '../sheet/margins/use-heights';
import { moveSheet } from '../sheet/move-style';
import { hasPicture, PictureCard } from '../sheet/PictureCard';
import { Pointed, usePointed } from '../sheet/Pointed';
import { TakeAway } from '../sheet/tools/TakeAway';
import { useFollowed } from './use-followed';
import { useNoMargin } from './use-no-margin';
import { useUncovered } from '../sheet/use-uncovered';
import { toolFacts, Toolbar } from '../sheet/tools/Toolbar';
import { useTalkContext } from '../talk/context';
import { SignPopover, useSigns } from '../talk/SignPopover';
import { TalkMargin } from '../talk/TalkMargin';
import { kindHue } from '../theme/hues';
import { useMode } from '../theme/mode';
import { nonce } from '../theme/nonce';
import { useOfferingMarked } from './use-offering-marked';

interface Props {
  drawings: Drawings;
  hand: Hand;
  threads: readonly Thread[];
  /** Those of them that stand in the margin. */
  shown: readonly Thread[];
  /** Where a comment is being begun. */
  begunAt: number | null;
  /** Whether another page is shown. */
  hidden: boolean;
  /** While the bar at the foot is deciding, no slip covers the text. */
  noSlip: boolean;
  focused: Focus;
  onFocus(focus: Focus): void;
  onUnfold(changes: string[]): void;
}

const none: readonly Change[] = [];
const noThreads: readonly Thread[] = [];
const noPlaces: ReadonlyMap<string, readonly Range[]> = new Map();

const ToolButton = memo(function ToolButton({ id, name }: { id: string; name: string }) {
  const acts = useActs();
  const quiet = { fontWeight: 400, color: 'text.secondary', minWidth: 0 };
  return (
    <Tooltip title={titleOf(id)}>
      <Button color="inherit" onClick={() => acts.do(id)} sx={quiet}>
        {name}
      </Button>
    </Tooltip>
  );
});

/** Draws changes and threads into the sheet, those in focus apart. */
function useDrawing(drawings: Drawings, shown: readonly Thread[], focused: Focus): void {
  const { view } = useStore(useOpened().sheet);
  const { flow } = useLooking().look;
  const { unusual } = useReviewed();
  useLayoutEffect(() => {
    if (view) drawings.changes.draw(view, unusual, flow, focused.change);
  }, [view, drawings, unusual, flow, focused.change]);
  useLayoutEffect(() => {
    if (view) drawings.threads.draw(view, shown, focused.thread);
  }, [view, drawings, shown, focused.thread]);
}

/** The card of the picture that is selected. */
function PictureAt({ pictures, at }: { pictures: Pictures; at: { left: number; top: number } }) {
  const state = useDrawn();
  if (!hasPicture(state)) return null;
  const { asset } = (state.selection as NodeSelection).node.attrs as { asset: string };
  return <PictureCard key={asset} state={state} pictures={pictures} {...at} />;
}

/** The sheet with its two margins, and the slip of the change in focus. */
export function TextPage(props: Props) {
  const { drawings, hand, threads, shown, begunAt, hidden, noSlip, focused, onFocus, onUnfold } = props;
  const { text, may, say, sayDone, nameOf, sheet, panels } = useOpened();
  const { look, ownHues } = useLooking();
  const state = useDrawn();
  const reviewing = useReviewed();
  const { places } = useTalkContext();
  const { view, scroller } = useStore(sheet);
  const { mode } = useMode();
  const width = useWidth();
  // Where the margin has no room, a thread that is open comes from below.
  const beside = useStore(panels, (all) => all.has('look'));
  const below = useNoMargin();
  const [page, setPage] = useState<HTMLElement | null>(null);
  const pictures = useMemo(() => new Pictures(text, say, sayDone), [text, say, sayDone]);
  const marked = look.reading === 'marked';
  const signs = look.talk === 'signs';
  const signsAt = useSigns(signs && marked);
  const changes = marked ? reviewing.shown : none;

  // A change that has been decided, here or elsewhere, closes its slip.
  const change = marked && focused.change ? reviewing.changes.find(({ id }) => id === focused.change) : undefined;
  const at = useFollowed(focused);
  const heights = useHeights({
    doc: readingOf(state.doc, look.reading),
    page,
    changes,
    folded: marked ? reviewing.folded : none,
    places: signs ? noPlaces : places,
    focused: noSlip && look.notes === 'all' ? undefined : change,
    at,
    picture: may.write && marked && hasPicture(state) ? state.selection.from : null,
    begun: begunAt,
    hidden,
  });
  useDrawing(drawings, shown, focused);

  const slip = noSlip ? undefined : change;
  const about = begunAt ?? places.get(focused.thread ?? '')?.[0]?.from ?? (slip ? endOfWords(slip, at) : null);
  useUncovered(view, scroller, width === 'phone' || below ? about : null);
  const focusEnd = useHandler((id: string, old: boolean) => {
    const { doc: now } = text.snapshot().state!;
    const one = reviewing.changes.find((each) => each.id === id);
    const ends = one && endsOf(now, one);
    onFocus({ change: id, thread: null, at: ends ? (old ? ends.from.from : ends.to.from) : null });
  });
  const pointAt = useCallback(
    (id: string | null, thread: string | null, at: number | null) => onFocus({ change: id, thread, at }),
    [onFocus],
  );
  const [pointed, point] = usePointed((id) => {
    const over = reviewing.changes.find((one) => one.id === id);
    return over && { name: nameOf(over.author), words: describeChange(over), date: over.date };
  });
  const menu = useChangeMenu(view, marked && (may.decide || may.write));
  const offerMarked = useOfferingMarked();
  const shownHand = !may.write || !marked ? 'closed' : hand;
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: hidden ? 'none' : 'flex' }}>
      <Box component="main" sx={{ flex: 1, minWidth: 0, overflow: 'auto', position: 'relative' }}>
        <style nonce={nonce}>{moveSheet(changes, ownHues.says === 'kind' ? kindHue('move', mode) : null)}</style>
        <Box className={beside ? 'columns with-look' : look.outline ? 'columns with-outline' : 'columns'}>
          <ToolRow pictures={pictures} marked={marked} hand={shownHand} brief={below} />
          <Box sx={{ gridColumn: 1, gridRow: 2 }}>
            <EditMargin
              ticks={heights.ticks}
              notes={heights.notes}
              folds={heights.folds}
              focused={focused.change}
              onFocus={focusEnd}
              onUnfold={onUnfold}
            />
          </Box>
          <Box
            ref={setPage}
            className={`sheet in-${shownHand}`}
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
              drawings={drawings}
              reading={look.reading}
              pictures={pictures}
              onPoint={pointAt}
              onWriteInReading={offerMarked}
            />
            {heights.picture && <PictureAt pictures={pictures} at={heights.picture} />}
            {slip && heights.slip && (
              <SlipOf key={slip.id} change={slip} at={at} threads={threads} onFocus={onFocus} {...heights.slip} />
            )}
          </Box>
          <Box
            className={below ? 'from-below' : undefined}
            sx={{ gridColumn: 3, gridRow: 2, pl: look.outline ? 2 : 3, pr: look.outline ? 1.5 : 4, maxWidth: 400 }}
          >
            <TalkMargin
              threads={signs && begunAt === null ? noThreads : shown}
              heights={heights.threads}
              focused={focused.thread}
              begunAt={heights.begun}
              below={below}
            />
          </Box>
        </Box>
        {pointed && !change && <Pointed {...pointed} />}
        <SignPopover signs={signsAt} threads={shown} />
        <ChangeMenu menu={menu} />
      </Box>
      {beside && !hidden && isAtLeast(width, 'middle') && <LookPanel />}
      {width !== 'phone' && <Spine threads={shown} places={places} />}
    </Box>
  );
}

/** Where the words of a change end that was pointed at. */
const endOfWords = ({ ranges }: Change, at: number | null): number | null =>
  (ranges.find(({ from, to }) => at !== null && at >= from && at <= to) ?? ranges[0])?.to ?? null;

interface SlipProps {
  change: Change;
  /** Where it was pointed at. */
  at: number | null;
  threads: readonly Thread[];
  onFocus(focus: Focus): void;
  left: number;
  top: number;
}

/** The slip of a change, with what stands around the change in the text. */
function SlipOf({ change, at, threads, onFocus, left, top }: SlipProps) {
  const { text, may, nameOf } = useOpened();
  const { doc } = useDrawn();
  const { changes, inLens } = useReviewed();
  const go = (to: number) => {
    const { tr } = text.snapshot().state!;
    const place = tr.doc.resolve(Math.min(to + 1, tr.doc.content.size));
    text.dispatch(tr.setSelection(TextSelection.between(place, place)).scrollIntoView());
    onFocus({ change: change.id, thread: null, at: to });
  };
  const ends = endsOf(doc, change);
  const trouble = may.decide ? spaceTrouble(doc, change, changes) : null;
  return (
    <OneOfMany what="This change" of={change}>
      <Slip
        change={change}
        left={left}
        top={top}
        together={decidedWith(doc, change, inLens)}
        otherEnd={ends && endOf(doc, ends, at ?? ends.to.from, go)}
        warning={trouble && warningOf(trouble, nameOf(trouble.other.author))}
        threads={threads.filter((one) => one.change === change.id)}
        onClose={() => onFocus(nothingInFocus)}
      />
    </OneOfMany>
  );
}

interface ToolRowProps {
  pictures: Pictures;
  marked: boolean;
  hand: Hand | 'closed';
  /** Whether there is no room beside the tools. */
  brief: boolean;
}

/** The row of tools above the sheet and its margins. */
function ToolRow({ pictures, marked, hand, brief }: ToolRowProps) {
  const { may, text } = useOpened();
  const facts = toolFacts(useDrawn(), text.mine);
  const width = useWidth();
  return (
    <>
      <Box className="tools" sx={{ gridColumn: 1, justifyContent: 'flex-end', pr: 1.5 }}>
        {width === 'wide' && <FlowMenu />}
      </Box>
      <Box sx={{ gridColumn: 2, position: 'sticky', top: 0, zIndex: 6, bgcolor: 'background.default' }}>
        <Toolbar {...facts} pictures={pictures} mayWrite={may.write && marked} />
        <div className={`edge ${hand === 'closed' ? 'closed' : `in-${hand}`}`} />
      </Box>
      {!brief && (
        <Box className="tools" sx={{ gridColumn: 3, pl: 2 }}>
          {width === 'middle' && <FlowMenu />}
          {may.takeAway && <TakeAway />}
          <ToolButton id="last look" name="Last look" />
          <ToolButton id="keys" name="Keys" />
        </Box>
      )}
    </>
  );
}
