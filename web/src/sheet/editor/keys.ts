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
import { redo } from 'prosemirror-history';
import { leaveFootnote, throughFootnote } from './footnote-view';
import { keymap } from 'prosemirror-keymap';
import type { Command, Plugin } from 'prosemirror-state';
import { deleteBreak, deleteLetter, enter, leaveList, lineBreak, nextCell, shiftLevel } from '@tea-pencil/core';
import { commands } from '../../commands/table';

/** The keys of the table's commands that edit. */
const ofTable: Record<string, Command> = {};
for (const { key, edit } of Object.values(commands)) if (key && edit) ofTable[key] = edit;

export const editingKeys = (me: string): Plugin[] => [
  keymap({
    ...ofTable,
    'Mod-y': redo,
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
