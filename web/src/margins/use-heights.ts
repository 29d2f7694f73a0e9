import type { EditorView } from 'prosemirror-view';
import { useCallback, useEffect, useLayoutEffect, useState } from 'react';
import type { Change, Range } from '@tea-pencil/core';
import { heightOf, measureTicks, slipPlace, type Tick } from './measure';

/** What is measured after each drawing, in pixels from the top of the sheet. */
export interface Heights {
  ticks: Tick[];
  notes: { change: Change; y: number }[];
  threads: ReadonlyMap<string, number>;
  /** Where a comment being begun belongs. */
  begun: number;
  slip: { left: number; top: number } | null;
}

const nothing: Heights = { ticks: [], notes: [], threads: new Map(), begun: 0, slip: null };

/** Changes whose marks alone say too little, so that a note stands beside them. */
const needsNote = ({ kind }: Change) => kind === 'formatting' || kind === 'paragraph' || kind === 'move';

interface Wanted {
  view: EditorView | null;
  scroller: HTMLElement | null;
  sheet: HTMLElement | null;
  changes: readonly Change[];
  places: ReadonlyMap<string, Range[]>;
  focused: Change | undefined;
  begun: number | null;
}

/** Heights of all that stands beside the text, kept true while the text, the window and the scroll change. */
export function useHeights({ view, scroller, sheet, changes, places, focused, begun }: Wanted): Heights {
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
      notes: changes.filter(needsNote).map((change) => ({
        change,
        y: (heightOf(view, change.ranges[0]!.from + 1, origin) ?? 0) - 4,
      })),
      threads,
      begun: begun === null ? 0 : (heightOf(view, begun, origin) ?? 0),
      slip: focused ? slipPlace(view, focused, sheet) : null,
    });
  }, [view, sheet, scroller, changes, places, focused, begun]);

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
