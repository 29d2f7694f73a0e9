import type { EditorView } from 'prosemirror-view';

/** What of the text is in view, and bringing something there. */

/** How far below the top of the window the text begins to be read, in pixels: under the row of tools. */
const under = 56;

/** The box of what a place is drawn as: one within a footnote stands at the number of it, unless the footnote is open. */
export function boxAt(view: EditorView, pos: number): { left: number; top: number; bottom: number } {
  const place = Math.min(pos, view.state.doc.content.size);
  const number = closedNumber(view.domAtPos(place, 1).node);
  return number ? number.getBoundingClientRect() : view.coordsAtPos(place);
}

/** The number of the footnote that something stands in, when what the footnote says is not shown. */
function closedNumber(node: Node): Element | null {
  const element = node instanceof Element ? node : node.parentElement;
  const words = element?.closest('.footnote-text');
  return words && !words.checkVisibility() ? footnoteNumber(words) : null;
}

/** The number of the footnote that an element stands in, or null. */
export const footnoteNumber = (element: Element): Element | null =>
  element.closest('.footnote-text')?.parentElement?.querySelector(':scope > .footnote-number') ?? null;

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
    const { top } = boxAt(view, place);
    const by = top - scroller.getBoundingClientRect().top - below;
    if (Math.abs(by) < 2) return;
    scroller.scrollTop += by;
  }
}
