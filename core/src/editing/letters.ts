import { joinBackward, joinForward } from 'prosemirror-commands';
import type { Node } from 'prosemirror-model';
import { Selection, TextSelection, type Command, type EditorState } from 'prosemirror-state';
import { letters } from '../row/row.js';
import { wordBorders } from '../sweeps/search.js';

/**
 * Deleting by letter, by word and to the end of the line, in both directions. A letter is a grapheme cluster, so that
 * none comes apart; words that one has struck out oneself are passed over, for to the writer they are gone.
 */

export type Direction = -1 | 1;

/** What stands beside the caret, in reading order: letters and atoms, each with its range. */
interface Beside {
  text: string;
  from: number;
  to: number;
  struck: boolean;
}

function lettersOf(paragraph: Node, start: number, author: string): Beside[] {
  const found: Beside[] = [];
  paragraph.forEach((node, offset) => {
    const struck = node.marks.some((mark) => mark.type.name === 'deletion' && mark.attrs.author === author);
    let from = start + offset;
    if (!node.isText) found.push({ text: '\ufffc', from, to: from + node.nodeSize, struck });
    else
      for (const text of letters(node.text ?? '')) {
        found.push({ text, from, to: from + text.length, struck });
        from += text.length;
      }
  });
  return found;
}

/** The letters on one side of the caret, the nearest first; null where something is selected. */
function beside({ selection: { empty, $from } }: EditorState, direction: Direction, author: string): Beside[] | null {
  if (!empty || !$from.parent.isTextblock) return null;
  const all = lettersOf($from.parent, $from.start(), author);
  return direction === 1
    ? all.filter(({ from }) => from >= $from.pos)
    : all.filter(({ to }) => to <= $from.pos).reverse();
}

/** Deletes some of the letters beside the caret: those the picker names, nearest first, struck ones not counted. */
const deleteBeside =
  (direction: Direction, author: string, pick: (near: readonly Beside[]) => number): Command =>
  (state, dispatch) => {
    const all = beside(state, direction, author);
    const live = all?.filter(({ struck }) => !struck) ?? [];
    const chosen = live.slice(0, pick(live));
    if (!chosen.length) return false;
    const { tr } = state;
    for (const { from, to } of direction === 1 ? [...chosen].reverse() : chosen) tr.delete(from, to);
    const last = chosen[chosen.length - 1]!;
    const at = direction === 1 ? state.selection.from : last.from;
    tr.setSelection(Selection.near(tr.doc.resolve(Math.min(at, tr.doc.content.size))));
    dispatch?.(tr.scrollIntoView());
    return true;
  };

/** Deletes the letter before (-1) or behind (1) the caret; at the edge of a paragraph it does nothing. */
export const deleteLetter = (direction: Direction, author: string): Command => deleteBeside(direction, author, () => 1);

/** How many of the nearest letters make up the word beside the caret, with the space between. */
function wordLength(near: readonly Beside[], direction: Direction): number {
  const ordered = direction === 1 ? near : [...near].reverse();
  const text = ordered.map((one) => one.text).join('');
  const borders = [...wordBorders(text)].sort((a, b) => (a - b) * direction);
  const isWord = (from: number, to: number) => /[^\s]/.test(text.slice(Math.min(from, to), Math.max(from, to)));
  const start = direction === 1 ? 0 : text.length;
  const end =
    borders.find((border) => (border - start) * direction > 0 && isWord(start, border)) ?? text.length - start;
  let length = 0;
  let reached = 0;
  while (length < near.length && reached < Math.abs(end - start)) reached += near[length++]!.text.length;
  return length;
}

/** Deletes the word before or behind the caret (Unicode UAX #29, section 4), with the space that lies between. */
export const deleteWord = (direction: Direction, author: string): Command =>
  deleteBeside(direction, author, (near) => wordLength(near, direction));

/**
 * Deletes what stands between the caret and one edge of its line.
 * @param edge the position of that edge, which only the screen knows
 */
export const deleteToEdge =
  (edge: (state: EditorState) => number | null): Command =>
  (state, dispatch) => {
    const { empty, from, $from } = state.selection;
    const at = empty ? edge(state) : null;
    if (at === null || at === from || !$from.sameParent(state.doc.resolve(at))) return false;
    const tr = state.tr.delete(Math.min(at, from), Math.max(at, from));
    dispatch?.(tr.setSelection(TextSelection.create(tr.doc, Math.min(at, from))).scrollIntoView());
    return true;
  };

/**
 * Joins two paragraphs at the edge of one, also where only words stand between the caret and that edge that the writer
 * has struck out.
 */
export const deleteBreak =
  (direction: Direction, author: string): Command =>
  (state, dispatch) => {
    const near = beside(state, direction, author);
    if (!near || near.some(({ struck }) => !struck)) return false;
    const { $from } = state.selection;
    const tr = state.tr.setSelection(TextSelection.create(state.doc, direction === 1 ? $from.end() : $from.start()));
    const join = direction === 1 ? joinForward : joinBackward;
    return join(
      state.apply(tr),
      dispatch &&
        ((joined) => {
          for (const step of joined.steps) tr.step(step);
          const at = direction === 1 ? tr.mapping.map($from.pos, -1) : joined.selection.from;
          dispatch(tr.setSelection(Selection.near(tr.doc.resolve(at))).scrollIntoView());
        }),
    );
  };
