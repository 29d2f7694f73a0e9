import { isSmall, isUnseen } from '@tea-pencil/core';
import { Plugin, type EditorState } from 'prosemirror-state';
import type { Mark, Node } from 'prosemirror-model';
import { Decoration, DecorationSet } from 'prosemirror-view';

/**
 * Signs that stand in the text without being of it: the notch of a replacement, the sign of a pending paragraph break; and a
 * small frame around edits of one or two characters, which would be overlooked.
 */

type Make = (dress: Dress) => () => HTMLElement;
type Sign = { at: number; make: Make; side: number; key: string };

/** Makes a new sign look as its change is drawn. */
type Dress = (element: HTMLElement) => void;

function sign(className: string, { attrs }: Mark): Make {
  return (dress) => () => {
    const element = document.createElement('span');
    element.className = className;
    element.dataset.change = attrs.change as string;
    element.dataset.author = attrs.author as string;
    element.setAttribute('aria-hidden', 'true');
    dress(element);
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
    if (joined) found.push({ at: offset + 1, make: sign('notch', joined), side: -1, key: `notch ${String(change)}` });
    before = node.marks;
  });
  known.set(paragraph, found);
  return found;
}

type Run = { from: number; to: number; text: string; change: unknown };
const frames = new WeakMap<Node, Run[]>();

/** Stretches of a paragraph that one change puts in or takes out, of one character or two, at offsets into it. */
function smallRuns(paragraph: Node): Run[] {
  let found = frames.get(paragraph);
  if (found) return found;
  const runs: Run[] = [];
  for (const name of ['insertion', 'deletion']) {
    let open: Run | null = null;
    paragraph.forEach((node, offset) => {
      const change: unknown = node.marks.find((mark) => mark.type.name === name)?.attrs.change;
      const [from, to] = [offset + 1, offset + 1 + node.nodeSize];
      const text = node.text ?? '\ufffc';
      if (open && open.change === change) Object.assign(open, { to, text: open.text + text });
      else if (change !== undefined) runs.push((open = { from, to, text, change }));
      else open = null;
    });
  }
  found = runs.filter(({ text }) => isSmall(text));
  frames.set(paragraph, found);
  return found;
}

/** The signs of one paragraph that stands at `pos`. */
function signsOfParagraph(paragraph: Node, pos: number, dress: Dress): Decoration[] {
  const all = notches(paragraph).map(({ at, make, side, key }) =>
    Decoration.widget(pos + at, make(dress), { side, marks: [], key }),
  );
  for (const { from, to, text } of smallRuns(paragraph)) {
    const name = isUnseen(text) ? 'small-edit of-space' : 'small-edit';
    all.push(Decoration.inline(pos + from, pos + to, { class: name }, { small: true }));
  }
  for (const mark of paragraph.marks) {
    const kind = { openingInserted: 'inserted', openingDeleted: 'deleted' }[mark.type.name];
    if (!kind) continue;
    // The break is seen where the line above ends.
    const key = `${kind} ${String(mark.attrs.change)}`;
    const make = sign(`break-sign ${kind}`, mark);
    all.push(Decoration.widget(pos - 1, make(dress), { side: 1, marks: [], key }));
  }
  return all;
}

/** The signs of one block that stands at `pos`, of what is in its cells and footnotes too. */
function signsOf(block: Node, pos: number, dress: Dress): Decoration[] {
  const all = block.isTextblock ? signsOfParagraph(block, pos, dress) : [];
  block.descendants((node, offset) => {
    if (node.isTextblock) for (const one of signsOfParagraph(node, pos + 1 + offset, dress)) all.push(one);
    return !node.isLeaf;
  });
  return all;
}

function allSigns(doc: Node, dress: Dress): DecorationSet {
  const all: Decoration[] = [];
  doc.forEach((block, pos) => {
    for (const found of signsOf(block, pos, dress)) all.push(found);
  });
  return DecorationSet.create(doc, all);
}

/** The set after a step from one document to another: only blocks that are new are looked at. */
function updated(set: DecorationSet, before: Node, doc: Node, dress: Dress): DecorationSet {
  let first = 0;
  let from = 0;
  while (first < doc.childCount && first < before.childCount && doc.child(first) === before.child(first)) {
    from += doc.child(first++).nodeSize;
  }
  let end = doc.childCount;
  let to = doc.content.size;
  for (
    let last = before.childCount;
    end > first && last > first && doc.child(end - 1) === before.child(last - 1);
    last--
  ) {
    to -= doc.child(--end).nodeSize;
  }
  const fresh: Decoration[] = [];
  // The sign of the first block stands in the one above it, that of the one below in the last.
  let pos = from;
  for (let i = first; i < Math.min(end + 1, doc.childCount); i++) {
    for (const found of signsOf(doc.child(i), pos, dress)) if (found.from <= to) fresh.push(found);
    pos += doc.child(i).nodeSize;
  }
  const stale = set.find(Math.max(0, from - 1), to).filter((found) => found.from >= from - 1 && found.from <= to);
  return set.remove(stale).add(doc, fresh);
}

/** Where one is writing no frame comes and goes with every letter. */
function withoutFramesAtCaret(all: DecorationSet, { selection }: EditorState): DecorationSet {
  if (!selection.empty) return all;
  const here = all.find(selection.from, selection.from, (spec) => !!(spec as { small?: boolean }).small);
  return here.length ? all.remove(here) : all;
}

export const signs = (dress: Dress): Plugin<DecorationSet> =>
  new Plugin({
    state: {
      init: (_, { doc }) => allSigns(doc, dress),
      apply: (tr, set) => (tr.docChanged ? updated(set.map(tr.mapping, tr.doc), tr.before, tr.doc, dress) : set),
    },
    props: {
      decorations(state) {
        const all = this.getState(state);
        return all && withoutFramesAtCaret(all, state);
      },
    },
  });
