import type { Node } from 'prosemirror-model';
import { Plugin, TextSelection, type Command, type Selection } from 'prosemirror-state';
import { Decoration, DecorationSet, type EditorView, type NodeView } from 'prosemirror-view';

/**
 * A footnote stands in the text as its number; what it says opens in a card beneath while the caret is in it or the
 * number is pointed at.
 */
export class FootnoteView implements NodeView {
  readonly dom = document.createElement('span');
  readonly contentDOM = document.createElement('span');
  readonly #opened: ResizeObserver;

  constructor(view: EditorView, position: () => number | undefined) {
    this.dom.className = 'footnote';
    const number = document.createElement('button');
    number.type = 'button';
    number.className = 'footnote-number';
    number.tabIndex = -1;
    number.contentEditable = 'false';
    number.setAttribute('aria-label', 'Footnote');
    number.addEventListener('mousedown', (event) => {
      event.preventDefault();
      const pos = position();
      if (pos === undefined) return;
      view.dispatch(view.state.tr.setSelection(TextSelection.near(view.state.doc.resolve(pos + 2))));
      view.focus();
    });
    this.contentDOM.className = 'footnote-text';
    // The number comes last: behind it a caret stands outside the footnote.
    this.dom.append(this.contentDOM, number);
    this.#opened = new ResizeObserver(() => this.#keepWithin(view.dom));
    this.#opened.observe(this.contentDOM);
  }

  /** A card that would stand out of the text at its right is moved to the left. */
  #keepWithin(text: HTMLElement): void {
    const { left, right, width } = this.contentDOM.getBoundingClientRect();
    if (!width) return; // closed
    const within = text.getBoundingClientRect();
    const by = Math.min(within.right - right, this.dom.getBoundingClientRect().left - left);
    const shift = Math.max(by, within.left - left);
    const now = parseFloat(this.dom.style.getPropertyValue('--shift')) || 0;
    this.dom.style.setProperty('--shift', `${Math.round(now + shift)}px`);
  }

  destroy(): void {
    this.#opened.disconnect();
  }

  ignoreMutation(mutation: { type: string; target: globalThis.Node }): boolean {
    return mutation.type !== 'selection' && !this.contentDOM.contains(mutation.target);
  }
}

/** The footnote that the selection is in, with the position before it. */
export function footnoteAround({ $from }: Pick<Selection, '$from'>): { pos: number; node: Node } | null {
  for (let depth = $from.depth; depth > 0; depth--) {
    if ($from.node(depth).type.name === 'footnote') return { pos: $from.before(depth), node: $from.node(depth) };
  }
  return null;
}

/** Keeps the card of the footnote open that the caret is in. */
export const openFootnote = (): Plugin =>
  new Plugin({
    props: {
      decorations({ doc, selection }) {
        const found = footnoteAround(selection as TextSelection);
        if (!found) return null;
        const { pos, node } = found;
        return DecorationSet.create(doc, [Decoration.node(pos, pos + node.nodeSize, { class: 'open' })]);
      },
    },
  });

/** Arrow keys go into a footnote and out of it again; Escape leaves it. */
export const throughFootnote =
  (direction: -1 | 1): Command =>
  (state, dispatch) => {
    const { $from, empty } = state.selection;
    if (!empty) return false;
    const beside = direction === 1 ? $from.nodeAfter : $from.nodeBefore;
    let to: number | null = null;
    if (beside?.type.name === 'footnote') to = $from.pos + 2 * direction;
    const inside = footnoteAround(state.selection as TextSelection);
    if (inside) {
      const last = direction === 1 ? inside.pos + inside.node.nodeSize - 2 : inside.pos + 2;
      if ($from.pos === last) to = direction === 1 ? inside.pos + inside.node.nodeSize : inside.pos;
    }
    if (to === null) return false;
    dispatch?.(state.tr.setSelection(TextSelection.create(state.doc, to)).scrollIntoView());
    return true;
  };

export const leaveFootnote: Command = (state, dispatch) => {
  const inside = footnoteAround(state.selection as TextSelection);
  if (!inside) return false;
  const after = inside.pos + inside.node.nodeSize;
  dispatch?.(state.tr.setSelection(TextSelection.create(state.doc, after)));
  return true;
};
