import type { EditorView } from 'prosemirror-view';
import { useCallback, useEffect, useState } from 'react';
import type { LiveText } from '../live/live-text';
import { inReading, inText } from '../reviewing/use-reviewing';
import type { ReadAs } from '@tea-pencil/wire';

/** How far below the top of the window the text begins to be read, in pixels: under the row of tools. */
const under = 56;

/** The first place in view. */
export function firstInView(view: EditorView, scroller: HTMLElement): number | null {
  const { left, width } = view.dom.getBoundingClientRect();
  const { top } = scroller.getBoundingClientRect();
  return view.posAtCoords({ left: left + width / 3, top: top + under })?.pos ?? null;
}

/** Tells the others which part of the text one has in view. */
function useTelling(text: LiveText, view: EditorView | null, scroller: HTMLElement | null, reading: ReadAs): void {
  useEffect(() => {
    if (!view || !scroller) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const tell = () => {
      timer ??= setTimeout(() => {
        timer = undefined;
        const top = view.isDestroyed ? null : firstInView(view, scroller);
        const { state } = text.snapshot();
        if (top !== null && state) text.places.looksAt(inText(state.doc, top, reading));
      }, 150);
    };
    tell();
    scroller.addEventListener('scroll', tell, { passive: true });
    return () => {
      clearTimeout(timer);
      scroller.removeEventListener('scroll', tell);
    };
  }, [text, view, scroller, reading]);
}

/**
 * Scrolls so that a place is the first in view. A paragraph that was not drawn yet gets its true height on the way.
 * @param below how far below the top, in pixels
 */
export function bring(view: EditorView, scroller: HTMLElement, pos: number, below = under): void {
  const place = Math.min(Math.max(1, pos), view.state.doc.content.size - 1);
  for (let i = 0; i < 3; i++) {
    const { top } = view.coordsAtPos(place);
    const by = top - scroller.getBoundingClientRect().top - below;
    if (Math.abs(by) < 2) return;
    scroller.scrollTop += by;
  }
}

/** Following somebody's view, until Escape or any act of one's own. */
export function useReadAlong(
  text: LiveText,
  view: EditorView | null,
  scroller: HTMLElement | null,
  reading: ReadAs,
  say: (sentence: string) => void,
) {
  const [client, setClient] = useState<string | null>(null);
  const end = useCallback(() => setClient(null), []);
  useTelling(text, view, scroller, reading);

  useEffect(() => {
    if (!client || !view || !scroller) return;
    let last = -1;
    const follow = () => {
      const other = text.places.others().find((one) => one.client === client);
      if (!other) {
        say('Whom you were reading along with has left.');
        return end();
      }
      if (other.top === last) return;
      last = other.top;
      bring(view, scroller, inReading(text.snapshot().state!.doc, other.top, reading));
    };
    follow();
    const leave = text.places.subscribe(follow);
    const acts = ['keydown', 'pointerdown', 'wheel', 'touchmove'] as const;
    for (const act of acts) addEventListener(act, end, { capture: true, passive: true });
    return () => {
      leave();
      for (const act of acts) removeEventListener(act, end, { capture: true });
    };
  }, [client, view, scroller, text, reading, say, end]);

  return { client, begin: setClient, end };
}
