import {
  baseKeymap,
  chainCommands,
  createParagraphNear,
  deleteSelection,
  joinBackward,
  joinForward,
  selectNodeBackward,
  selectNodeForward,
  toggleMark,
} from 'prosemirror-commands';
import { redo, undo } from 'prosemirror-history';
import { leaveFootnote, throughFootnote } from './footnote-view';
import { keymap } from 'prosemirror-keymap';
import type { Plugin } from 'prosemirror-state';
import { deleteBreak, deleteLetter, enter, leaveList, lineBreak, nextCell, schema, shiftLevel } from '@tea-pencil/core';

const { bold, italic, underline } = schema.marks;

export const editingKeys = (me: string): Plugin[] => [
  keymap({
    'Mod-z': undo,
    'Shift-Mod-z': redo,
    'Mod-y': redo,
    'Mod-b': toggleMark(bold!),
    'Mod-i': toggleMark(italic!),
    'Mod-u': toggleMark(underline!),
    Enter: chainCommands(enter, createParagraphNear),
    'Shift-Enter': lineBreak,
    Tab: chainCommands(nextCell(1), shiftLevel(1)),
    'Shift-Tab': chainCommands(nextCell(-1), shiftLevel(-1)),
    Backspace: chainCommands(
      deleteSelection,
      leaveList,
      deleteLetter(-1, me),
      deleteBreak(-1, me),
      joinBackward,
      selectNodeBackward,
    ),
    Delete: chainCommands(deleteSelection, deleteLetter(1, me), deleteBreak(1, me), joinForward, selectNodeForward),
    ArrowLeft: throughFootnote(-1),
    ArrowRight: throughFootnote(1),
    Escape: leaveFootnote,
  }),
  keymap(baseKeymap),
];
