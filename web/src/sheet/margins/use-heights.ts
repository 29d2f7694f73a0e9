import type { EditorView } from 'prosemirror-view';
import { useCallback, useEffect, useLayoutEffect, useState } from 'react';
import type { Node } from 'prosemirror-model';
import { describeChange, smallEditWords, endsOf, type Change, type Range } from '@tea-pencil/core';
import type { Flow } from '@tea-pencil/wire';
import { useStore } from '../../kit/store';
import { useLooking, useOpened } from '../../opened/opened';
import { heightOf, measureTicks, rangeBetween, slipPlace, type Tick } from './measure';

/** A quiet line beside the sheet: of a change, or of one end of a move. */
export interface MarginNote {
  key: string;
  change: string;
  kind: string;
  author: string;
  /** The words it is about, where the change is of their look, or where they are at the side. */
  about: string;
  words: string;
  /** Whether it stands at the place that a moved passage has left. */
  old: boolean;
  y: number;
}

/** Changes of one line that are folded to a number at the sheet's edge. */
export interface Fold {
  y: number;
  changes: string[];
}

/** What is measured after each drawing, in pixels from the top of the sheet. */
export interface Heights {
  ticks: Tick[];
  notes: MarginNote[];
  folds: Fold[];
  /** Of those near the window. */
  threads: ReadonlyMap<string, number>;
  /** Where a comment being begun belongs. */
  begun: number;
  slip: { left: number; top: number } | null;
  /** Where the card of a selected picture belongs. */
  picture: { left: number; top: number } | null;
}

const nothing: Heights = {
  ticks: [],
  notes: [],
  folds: [],
  threads: new Map(),
  begun: 0,
  slip: null,
  picture: null,
};

/** Changes whose marks alone say too little, so that a note stands beside them. */
const needsNote = ({ kind }: Change) =>
  kind === 'formatting' || kind === 'paragraph' || kind === 'move' || kind === 'table';

/** The words of a change that are not in the text but at its side. */
function atSide({ kind, before, after }: Change, flow: Flow): { about: string; words: string } | null {
  if (kind !== 'insertion' && kind !== 'deletion' && kind !== 'replacement') return null;
  const about = flow === 'fair' ? before : flow === 'before' ? after : '';
  return about
    ? { about: about.replaceAll('\n', ' ¶ ').trim() || 'a space', words: flow === 'fair' ? 'removed' : 'added' }
    : null;
}

/** The range of a change that one is in, or its first. */
const rangeAt = ({ ranges }: Change, at: number | null): Range =>
  ranges.find(({ from, to }) => at !== null && from <= at && at <= to) ?? ranges[0]!;

type Found = Omit<MarginNote, 'y'> & { pos: number };

/** The notes of a change: of a move one at each end, each pointing to the other. */
function notesOf(doc: Node, change: Change, flow: Flow): Found[] {
  const { id, author, kind, after, ranges } = change;
  const common = { change: id, kind, author, about: kind === 'formatting' ? after : '', old: false };
  const side = atSide(change, flow);
  if (side) return [{ ...common, ...side, key: id, pos: ranges[0]!.from }];
  const small = smallEditWords(change);
  if (small) return [{ ...common, key: id, words: small, pos: ranges[0]!.from }];
  if (!needsNote(change)) return [];
  const ends = endsOf(doc, change);
  if (!ends) return [{ ...common, key: id, words: describeChange(change), pos: ranges[0]!.from + 1 }];
  const paragraph = (pos: number) => doc.resolve(pos).index(0) + 1;
  const { from, to } = ends;
  return [
    { ...common, key: `${id} old`, words: `moved to ¶ ${paragraph(to.from)}`, old: true, pos: from.from + 1 },
    { ...common, key: `${id} new`, words: `moved here from ¶ ${paragraph(from.from)}`, pos: to.from + 1 },
  ];
}

/** How far above and below the window one looks, in pixels. */
const beyond = 900;
/** How often one measures at most while the text is scrolled, in milliseconds. */
const pause = 90;

const touches = ({ from, to }: Range, { ranges }: Change) =>
  ranges.some((range) => range.from <= to && range.to >= from);

/** The former value where the new one says the same, so that what is drawn from it need not be drawn again. */
const sameOr = <T>(before: T, now: T): T => (JSON.stringify(before) === JSON.stringify(now) ? before : now);
const sameMapOr = (before: ReadonlyMap<string, number>, now: ReadonlyMap<string, number>) =>
  before.size === now.size && [...now].every(([key, value]) => before.get(key) === value) ? before : now;

/** The folded changes of each line. */
function foldsOf(view: EditorView, folded: readonly Change[], range: Range, origin: number): Fold[] {
  const lines = new Map<number, Fold>();
  for (const change of folded) {
    const first = change.ranges.find(({ from, to }) => from <= range.to && to >= range.from);
    const y = first && heightOf(view, first.from + 1, origin);
    if (y === undefined || y === null) continue;
    // What stands on one line differs by a few pixels.
    const line = [...lines.values()].find((one) => Math.abs(one.y - y) < 10);
    if (line) line.changes.push(change.id);
    else lines.set(y, { y: Math.round(y), changes: [change.id] });
  }
  return [...lines.values()];
}

interface Wanted {
  /** The text as it is shown; all that is wanted is about it. */
  doc: Node;
  /** The sheet of paper on the screen. */
  page: HTMLElement | null;
  /** The changes that are drawn with their marks, and those that are folded to numbers. */
  changes: readonly Change[];
  folded: readonly Change[];
  places: ReadonlyMap<string, readonly Range[]>;
  focused: Change | undefined;
  /** Where in it one is, if it was pointed at. */
  at: number | null;
  /** The position of a selected picture. */
  picture: number | null;
  begun: number | null;
  /** Whether nothing of it is on the screen, so that nothing can be measured. */
  hidden: boolean;
}

/** Heights of all that stands beside the text, kept true while the text, the window and the scroll change. */
export function useHeights(wanted: Wanted): Heights {
  const { doc, page: sheet, changes, folded, places, focused, at, picture, begun, hidden } = wanted;
  const { view, scroller } = useStore(useOpened().sheet);
  const { flow, notes: which } = useLooking().look;
  const [heights, setHeights] = useState(nothing);

  const measure = useCallback(() => {
    if (!view || !sheet || !scroller || view.isDestroyed || hidden) return;
    // The view is a moment ahead of the rest of the screen; what is wanted will follow.
    if (view.state.doc !== doc) return;
    const origin = sheet.getBoundingClientRect().top;
    const { top, bottom } = scroller.getBoundingClientRect();
    const seen = [top - origin - beyond, bottom - origin + beyond] as const;
    const range = rangeBetween(view, origin, ...seen);
    const threads = new Map<string, number>();
    for (const [id, ranges] of places) {
      const { from, to } = ranges[0]!;
      if (from < range.from || from > range.to) continue;
      // What is about the whole stands at the top.
      const y = to === 0 ? 4 : heightOf(view, from, origin);
      if (y !== null) threads.set(id, y);
    }
    const near = changes.filter((change) => touches(range, change));
    const ticks = measureTicks(view, origin, ...seen, near);
    const notes = (which === 'all' ? near : near.filter(({ id }) => id === focused?.id))
      .flatMap((change) => notesOf(view.state.doc, change, flow))
      .filter(({ pos }) => pos >= range.from && pos <= range.to)
      .sort((a, b) => a.pos - b.pos)
      .map(({ pos, ...note }) => ({ ...note, y: Math.round(heightOf(view, pos, origin) ?? 0) - 4 }));
    const folds = foldsOf(view, folded, range, origin);
    setHeights((before) => ({
      ticks: sameOr(before.ticks, ticks),
      notes: sameOr(before.notes, notes),
      folds: sameOr(before.folds, folds),
      threads: sameMapOr(before.threads, threads),
      begun: begun === null ? 0 : (heightOf(view, begun, origin) ?? 0),
      slip: focused ? slipPlace(view, rangeAt(focused, at), sheet) : null,
      picture: picture === null ? null : slipPlace(view, { from: picture, to: picture + 1 }, sheet),
    }));
  }, [view, doc, sheet, scroller, changes, folded, flow, which, places, focused, at, picture, begun, hidden]);

  // The view has drawn the new text already; so what stands beside it is drawn in the same frame as the rest …
  // eslint-disable-next-line react-hooks/set-state-in-effect -- heights are known only once the text stands
  useLayoutEffect(measure, [measure]);

  // … and again when the window, the scroll or the fonts have changed what is where.
  useEffect(() => {
    if (!scroller || !sheet) return;
    let frame = 0;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let measured = scroller.scrollTop;
    const now = () => {
      clearTimeout(timer);
      timer = undefined;
      measured = scroller.scrollTop;
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(measure);
    };
    // More than what is in sight has been measured, so scrolling may go ahead of it for a while.
    const scrolled = () => {
      if (Math.abs(scroller.scrollTop - measured) > beyond / 3) timer ??= setTimeout(now, pause);
    };
    const resized = () => {
      if (scroller.scrollTop === measured) now();
      else timer ??= setTimeout(now, pause);
    };
    const resizing = new ResizeObserver(resized);
    resizing.observe(sheet);
    scroller.addEventListener('scroll', scrolled, { passive: true });
    void document.fonts.ready.then(now);
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
      resizing.disconnect();
      scroller.removeEventListener('scroll', scrolled);
    };
  }, [measure, scroller, sheet]);

  return heights;
}
