import type { EditorView } from 'prosemirror-view';
import { useEffect } from 'react';
import type { ReadAs } from '@tea-pencil/wire';
import { useStore } from '../kit/store';
import type { LiveText } from '../live/live-text';
import { useLooking, useOpened } from '../opened/opened';
import { bring, firstInView } from '../opened/scrolling';
import { inReading, inText } from '../reviewing/readings';

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

/** Following somebody's view, until Escape or any act of one's own; and telling the others what one has in view. */
export function useReadAlong(): void {
  const { text, say, sheet, along } = useOpened();
  const { view, scroller } = useStore(sheet);
  const person = useStore(along);
  const { reading } = useLooking().look;
  useTelling(text, view, scroller, reading);

  useEffect(() => {
    if (!person || !view || !scroller) return;
    const end = () => along.set(null);
    let last = -1;
    const follow = () => {
      const other = text.places.others().findLast((one) => one.person === person);
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
  }, [person, along, view, scroller, text, reading, say]);
}
