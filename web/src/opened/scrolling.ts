import type { EditorView } from 'prosemirror-view';

/** What of the text is in view, and bringing something there. */

/** How far below the top of the window the text begins to be read, in pixels: under the row of tools. */
const under = 56;

/** The first place in view. */
export function firstInView(view: EditorView, scroller: HTMLElement): number | null {
  const { left, width } = view.dom.getBoundingClientRect();
  const { top } = scroller.getBoundingClientRect();
  return view.posAtCoords({ left: left + width / 3, top: top + under })?.pos ?? null;
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
