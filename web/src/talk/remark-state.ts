import { baseKeymap, toggleMark } from 'prosemirror-commands';
import { history, redo, undo } from 'prosemirror-history';
import { InputRule, inputRules } from 'prosemirror-inputrules';
import { keymap } from 'prosemirror-keymap';
import { Node } from 'prosemirror-model';
import { EditorState, Plugin, TextSelection, type Command } from 'prosemirror-state';
import { remarkSchema, type Remark } from '@tea-pencil/core';

/** Writing a comment: its state, keys and commands, without a screen. */

const { bold, italic, link } = remarkSchema.marks;
const { line } = remarkSchema.nodes;

export type ListKind = 'bullet' | 'number';

/** Makes the lines of the selection items of a list, or plain lines again. */
export const toggleLine =
  (list: ListKind): Command =>
  (state, dispatch) => {
    const { tr, selection } = state;
    const lines: { pos: number; list: unknown }[] = [];
    state.doc.nodesBetween(selection.from, selection.to, (node, pos) => {
      if (node.type === line) lines.push({ pos, list: node.attrs.list });
    });
    const off = lines.every((one) => one.list === list);
    for (const { pos } of lines) tr.setNodeAttribute(pos, 'list', off ? null : list);
    dispatch?.(tr.scrollIntoView());
    return true;
  };

/** A new line of the same kind; an empty item of a list becomes a plain line instead. */
const nextLine: Command = (state, dispatch) => {
  const { $from, from, to } = state.selection;
  const { attrs, content } = $from.parent;
  if (attrs.list && !content.size) dispatch?.(state.tr.setNodeAttribute($from.before(), 'list', null));
  else
    dispatch?.(
      state.tr
        .delete(from, to)
        .split(from, 1, [{ type: line!, attrs }])
        .scrollIntoView(),
    );
  return true;
};

/** At the start of an item, Backspace makes it a plain line. */
const leaveLine: Command = (state, dispatch) => {
  const { $from, empty } = state.selection;
  if (!empty || $from.parentOffset > 0 || !$from.parent.attrs.list) return false;
  dispatch?.(state.tr.setNodeAttribute($from.before(), 'list', null));
  return true;
};

/** What begins a line as lists are written by hand. */
const listRule = (pattern: RegExp, list: ListKind) =>
  new InputRule(pattern, (state, _, start, end) => {
    const $start = state.doc.resolve(start);
    if ($start.parent.attrs.list) return null;
    return state.tr.delete(start, end).setNodeAttribute($start.before(), 'list', list);
  });

/** A name brings its space along; one typed by habit right behind it is that same space. */
const oneSpace = () =>
  new Plugin({
    props: {
      handleTextInput: ({ state }, from, to, text) => {
        const before = state.doc.resolve(from).nodeBefore;
        const behindName = before?.text === ' ' && state.doc.resolve(from - 1).nodeBefore?.type.name === 'mention';
        return text === ' ' && from === to && behindName;
      },
    },
  });

const plugins = (): Plugin[] => [
  history(),
  oneSpace(),
  inputRules({ rules: [listRule(/^[-*•]\s$/, 'bullet'), listRule(/^1[.)]\s$/, 'number')] }),
  keymap({
    'Mod-z': undo,
    'Shift-Mod-z': redo,
    'Mod-y': redo,
    'Mod-b': toggleMark(bold!),
    'Mod-i': toggleMark(italic!),
    Enter: nextLine,
    'Shift-Enter': nextLine,
    Backspace: leaveLine,
  }),
  keymap(baseKeymap),
];

const empty = () => remarkSchema.topNodeType.create(null, line!.create());

/** @param remark what is written already; what no comment can hold is left aside */
export function remarkState(remark?: Remark): EditorState {
  let doc: Node;
  try {
    doc = remark ? Node.fromJSON(remarkSchema, remark) : empty();
    doc.check();
  } catch {
    doc = empty();
  }
  return EditorState.create({ doc, plugins: plugins() });
}

export const remarkIn = (state: EditorState): Remark => state.doc.toJSON() as Remark;

export const toggleBold = toggleMark(bold!);
export const toggleItalic = toggleMark(italic!);

/** Makes the selected words a link, or plain ones where they are one. */
export const setRemarkLink =
  (href: string | null): Command =>
  (state, dispatch) => {
    const { from, to, empty: nothing } = state.selection;
    if (nothing) return false;
    dispatch?.(
      href === null ? state.tr.removeMark(from, to, link) : state.tr.addMark(from, to, link!.create({ href })),
    );
    return true;
  };

export const isOn = (state: EditorState, name: 'bold' | 'italic' | 'link'): boolean => {
  const type = remarkSchema.marks[name]!;
  const { from, to, empty: nothing, $from } = state.selection;
  return nothing ? !!type.isInSet(state.storedMarks ?? $from.marks()) : state.doc.rangeHasMark(from, to, type);
};

/** A name that is being written after an `@`, and where. */
export interface Asked {
  words: string;
  from: number;
  to: number;
}

export function askedName({ selection }: EditorState): Asked | null {
  const { $from, empty: nothing } = selection;
  if (!nothing) return null;
  const before = $from.parent.textBetween(0, $from.parentOffset, undefined, '\ufffc');
  const found = /(?:^|[\s(\ufffc])@([\p{L}\p{N}.’' -]{0,30})$/u.exec(before);
  if (!found) return null;
  return { words: found[1]!, from: $from.pos - found[1]!.length - 1, to: $from.pos };
}

/** Puts somebody's name in the place of what was written of it. */
export const mention =
  (person: string, { from, to }: Asked): Command =>
  (state, dispatch) => {
    const node = remarkSchema.nodes.mention!.create({ person });
    const tr = state.tr.replaceWith(from, to, node);
    // One space follows the name, whether it is there already or not; what is typed next stands behind it.
    const behind = from + node.nodeSize;
    const $behind = tr.doc.resolve(behind);
    if (!/^\s/.test($behind.parent.textBetween($behind.parentOffset, $behind.parent.content.size, '', '\ufffc')))
      tr.insertText(' ', behind);
    tr.setSelection(TextSelection.create(tr.doc, behind + 1));
    dispatch?.(tr.scrollIntoView());
    return true;
  };
