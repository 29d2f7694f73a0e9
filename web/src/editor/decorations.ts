import { Plugin } from 'prosemirror-state';
import type { Mark, Node } from 'prosemirror-model';
import { Decoration, DecorationSet } from 'prosemirror-view';

/** Signs that stand in the text without being of it: the notch of a replacement, the sign of a pending paragraph break. */

type Sign = { at: number; make: () => HTMLElement; side: number; key: string };

function sign(className: string, { attrs }: Mark): () => HTMLElement {
  return () => {
    const element = document.createElement('span');
    element.className = className;
    element.dataset.change = attrs.change as string;
    element.dataset.author = attrs.author as string;
    element.setAttribute('aria-hidden', 'true');
    return element;
  };
}

const known = new WeakMap<Node, Sign[]>();

/** Notches in a paragraph, at offsets into it: where deleted words are followed by inserted ones of the same change. */
function notches(paragraph: Node): Sign[] {
  let found = known.get(paragraph);
  if (found) return found;
  found = [];
  let before: readonly Mark[] = [];
  paragraph.forEach((node, offset) => {
    const deletion = before.find((mark) => mark.type.name === 'deletion');
    const joined = node.marks.find(
      (mark) => mark.type.name === 'insertion' && mark.attrs.change === deletion?.attrs.change,
    );
    const { change } = joined?.attrs ?? {};
    if (joined) found!.push({ at: offset + 1, make: sign('notch', joined), side: -1, key: `notch ${String(change)}` });
    before = node.marks;
  });
  known.set(paragraph, found);
  return found;
}

function signsOf(doc: Node): DecorationSet {
  const all: Decoration[] = [];
  doc.forEach((block, pos) => {
    if (!block.isTextblock) return;
    for (const mark of block.marks) {
      const kind = { openingInserted: 'inserted', openingDeleted: 'deleted' }[mark.type.name];
      // The break is seen where the line above ends.
      if (kind)
        all.push(
          Decoration.widget(pos - 1, sign(`break-sign ${kind}`, mark), {
            side: 1,
            marks: [],
            key: `${kind} ${String(mark.attrs.change)}`,
          }),
        );
    }
    for (const { at, make, side, key } of notches(block))
      all.push(Decoration.widget(pos + at, make, { side, marks: [], key }));
  });
  return DecorationSet.create(doc, all);
}

export const signs = (): Plugin<DecorationSet> =>
  new Plugin({
    state: {
      init: (_, { doc }) => signsOf(doc),
      apply: (tr, set) => (tr.docChanged ? signsOf(tr.doc) : set),
    },
    props: {
      decorations(state) {
        return this.getState(state);
      },
    },
  });
