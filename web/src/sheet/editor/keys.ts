import {
  baseKeymap,
  chainCommands,
  createParagraphNear,
  deleteSelection,
  joinBackward,
  joinForward,
  selectNodeBackward,
  selectNodeForward,
} from 'prosemirror-commands';
import { leaveFootnote, throughFootnote } from './footnote-view';
import { keymap } from 'prosemirror-keymap';
import type { Command, Plugin } from 'prosemirror-state';
import { deleteBreak, deleteLetter, enter, leaveList, lineBreak, nextCell, shiftLevel } from '@tea-pencil/core';
import { commands } from '../../commands/table';

/** The keys of the table's commands that edit. */
const ofTable: Record<string, Command> = {};
for (const [id, { key, edit }] of Object.entries(commands))
  // Decisions are undone in one order with what was written, so these are not the editor’s alone.
  if (key && edit && id !== 'undo' && id !== 'redo') ofTable[key] = edit;

export const editingKeys = (me: string): Plugin[] => [
  keymap({
    ...ofTable,
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
