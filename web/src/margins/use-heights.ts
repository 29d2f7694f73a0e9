import type { EditorView } from 'prosemirror-view';
import { useCallback, useEffect, useLayoutEffect, useState } from 'react';
import type { Node } from 'prosemirror-model';
import { endsOf, type Change, type Range } from '@tea-pencil/core';
import { heightOf, measureTicks, slipPlace, type Tick } from './measure';

/** A quiet line beside the sheet: of a change, or of one end of a move. */
export interface MarginNote {
  key: string;
  change: Change;
  words: string | null;
  /** Where in the text it belongs. */
  pos: number;
  y: number;
}

/** What is measured after each drawing, in pixels from the top of the sheet. */
export interface Heights {
  ticks: Tick[];
  notes: MarginNote[];
  threads: ReadonlyMap<string, number>;
  /** Where a comment being begun belongs. */
  begun: number;
  slip: { left: number; top: number } | null;
  /** Where the card of a selected picture belongs. */
  picture: { left: number; top: number } | null;
}

const nothing: Heights = { ticks: [], notes: [], threads: new Map(), begun: 0, slip: null, picture: null };

/** Changes whose marks alone say too little, so that a note stands beside them. */
const needsNote = ({ kind }: Change) => kind === 'formatting' || kind === 'paragraph' || kind === 'move';

/** The range of a change that one is in, or its first. */
const rangeAt = ({ ranges }: Change, at: number | null): Range =>
  ranges.find(({ from, to }) => at !== null && from <= at && at <= to) ?? ranges[0]!;

/** The notes of a change: of a move one at each end, each pointing to the other. */
function notesOf(doc: Node, change: Change): Omit<MarginNote, 'y'>[] {
  const ends = endsOf(doc, change);
  if (!ends) return [{ key: change.id, change, words: null, pos: change.ranges[0]!.from + 1 }];
  const paragraph = (pos: number) => doc.resolve(pos).index(0) + 1;
  const { from, to } = ends;
  return [
    { key: `${change.id} old`, change, words: `moved to ¶ ${paragraph(to.from)}`, pos: from.from + 1 },
    { key: `${change.id} new`, change, words: `moved here from ¶ ${paragraph(from.from)}`, pos: to.from + 1 },
  ];
}

interface Wanted {
  view: EditorView | null;
  scroller: HTMLElement | null;
  sheet: HTMLElement | null;
  changes: readonly Change[];
  places: ReadonlyMap<string, Range[]>;
  focused: Change | undefined;
  /** Where in it one is, if it was pointed at. */
  at: number | null;
  /** The position of a selected picture. */
  picture: number | null;
  begun: number | null;
}

/** Heights of all that stands beside the text, kept true while the text, the window and the scroll change. */
export function useHeights({ view, scroller, sheet, changes, places, focused, at, picture, begun }: Wanted): Heights {
  const [heights, setHeights] = useState(nothing);

  const measure = useCallback(() => {
    if (!view || !sheet || !scroller || view.isDestroyed) return;
    const origin = sheet.getBoundingClientRect().top;
    const { top, bottom } = scroller.getBoundingClientRect();
    const threads = new Map<string, number>();
    for (const [id, ranges] of places) {
      const y = heightOf(view, ranges[0]!.from, origin);
      if (y !== null) threads.set(id, y);
    }
    setHeights({
      ticks: measureTicks(view, origin, top - origin - 400, bottom - origin + 400),
      notes: changes
        .filter(needsNote)
        .flatMap((change) => notesOf(view.state.doc, change))
        .map((note) => ({ ...note, y: (heightOf(view, note.pos, origin) ?? 0) - 4 }))
        .sort((a, b) => a.y - b.y),
      threads,
      begun: begun === null ? 0 : (heightOf(view, begun, origin) ?? 0),
      slip: focused ? slipPlace(view, rangeAt(focused, at), sheet) : null,
      picture: picture === null ? null : slipPlace(view, { from: picture, to: picture + 1 }, sheet),
    });
  }, [view, sheet, scroller, changes, places, focused, at, picture, begun]);

  // Once the view has drawn the new text …
  useLayoutEffect(() => {
    const frame = requestAnimationFrame(measure);
    return () => cancelAnimationFrame(frame);
  }, [measure]);

  // … and again when the window, the scroll or the fonts have changed what is where.
  useEffect(() => {
    if (!scroller || !sheet) return;
    let frame = 0;
    const later = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(measure);
    };
    const resizing = new ResizeObserver(later);
    resizing.observe(sheet);
    scroller.addEventListener('scroll', later, { passive: true });
    void document.fonts.ready.then(later);
    return () => {
      cancelAnimationFrame(frame);
      resizing.disconnect();
      scroller.removeEventListener('scroll', later);
    };
  }, [measure, scroller, sheet]);

  return heights;
}
