import { useEffect } from 'react';
import type { EditorView } from 'prosemirror-view';
import { boxAt } from '../opened/scrolling';

/** What comes from below over the text. */
const cards = '.from-below, .slip';
/** So much of the text stays in sight above it, in pixels. */
const room = 44;

/**
 * Where a card comes from below, the words it is about stay in sight above it.
 * @param at where they are; null when there is none
 */
export function useUncovered(view: EditorView | null, scroller: HTMLElement | null, at: number | null): void {
  useEffect(() => {
    if (!view || !scroller || at === null) return;
    const frame = requestAnimationFrame(() => {
      const over = [...document.querySelectorAll<HTMLElement>(cards)].filter(
        (card) => getComputedStyle(card).position === 'fixed' && card.checkVisibility(),
      );
      const top = Math.min(...over.map((card) => card.getBoundingClientRect().top));
      if (!over.length || at > view.state.doc.content.size) return;
      const covered = boxAt(view, at).bottom + room - top;
      if (covered > 0) scroller.scrollBy({ top: covered });
    });
    return () => cancelAnimationFrame(frame);
  }, [view, scroller, at]);
}
