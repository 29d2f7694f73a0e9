import { toggleMark } from 'prosemirror-commands';
import { redo, undo } from 'prosemirror-history';
import type { Command } from 'prosemirror-state';
import {
  addColumn,
  addRow,
  deleteColumn,
  deleteRow,
  deleteTable,
  insertFootnote,
  insertRule,
  mergeCell,
  schema,
  setStyle,
  shiftIndent,
  shiftLevel,
  splitCell,
  tints,
  toggleAlign,
  toggleDirection,
  toggleHeaderRow,
  toggleList,
  type ParagraphStyle,
  type Tint,
} from '@tea-pencil/core';

/**
 * Every command: what it is called, its key, where it holds and what it does. Menus, buttons, tooltips, the keyboard and
 * the page of keys are made from this table.
 */

/** Where a command holds: what has the keyboard when its key is pressed. */
export type Where = 'anywhere' | 'sheet' | 'read-through' | 'talk margin' | 'last look';

/**
 * Where the keyboard is afterwards: in the text; in what the command opens or leads to, which takes it; or where it was.
 */
export type Then = 'text' | 'there' | 'stays';

export interface Entry {
  name: string;
  where: Where;
  then: Then;
  /** What it does, in a few words, for tooltips and the page of keys. */
  says?: string;
  /** As `KeyboardEvent.key` has it, after `Shift-` or `Mod-`; of a letter alone either case counts. */
  key?: string;
  /** What it does to the text. Others are done by the part of the screen that has them. */
  edit?: Command;
}

const anywhere = {
  hand: { name: 'Pencil or ink', key: 'F2', says: 'pencil or ink', then: 'stays' },
  'ink once': { name: 'Ink for one edit', key: 'Shift-F2', says: 'ink for one edit', then: 'text' },
  find: { name: 'Find', key: 'F3', says: 'find and replace', then: 'there' },
  comment: { name: 'Comment', key: 'F4', says: 'comment on the selection', then: 'there' },
  margin: { name: 'Talk margin', key: 'Shift-F4', says: 'into the talk margin and back', then: 'there' },
  'read through': {
    name: 'Read through',
    key: 'F8',
    says: 'from the text into the read-through and back',
    then: 'there',
  },
  'last look': {
    name: 'Last look',
    key: 'F6',
    says: 'what may be wrong, beside the text',
    then: 'there',
  },
  'unknown words': {
    name: 'Unknown words',
    key: 'Shift-F6',
    says: 'set off words that no dictionary has, or not',
    then: 'stays',
  },
  'show all': {
    name: 'Show all',
    key: 'F9',
    says: 'see all that reading and lens leave unseen, and back',
    then: 'stays',
  },
  close: { name: 'Close', key: 'Escape', says: 'close what stands open over the text', then: 'text' },
  keys: { name: 'Keys', key: '?', says: 'these keys, where nothing is being written', then: 'there' },
  whole: { name: 'Comment on the whole manuscript', then: 'there' },
  lens: { name: 'Lens', then: 'there' },
} as const satisfies Record<string, Omit<Entry, 'where'>>;

const inReadThrough = {
  next: { name: 'Next', key: 'j', says: 'next change', then: 'stays' },
  previous: { name: 'Previous', key: 'k', says: 'previous change', then: 'stays' },
  accept: { name: 'Accept', key: 'y', says: 'accept, and on', then: 'stays' },
  reject: { name: 'Reject', key: 'n', says: 'reject, and on', then: 'stays' },
  skip: { name: 'Skip', key: 's', says: 'skip', then: 'stays' },
  'take back': { name: 'Take back', key: 'u', says: 'take the last decision back', then: 'stays' },
  'comment here': { name: 'Comment', key: 'c', says: 'comment without leaving', then: 'there' },
  query: { name: 'Next query', key: 'q', says: 'next open query', then: 'stays' },
  'query before': { name: 'Previous query', key: 'Shift-q', says: 'the query before', then: 'stays' },
  'lens here': { name: 'Lens', key: 'l', says: 'the lens', then: 'there' },
  marked: { name: 'Marked', key: '1', says: 'reading: marked', then: 'stays' },
  fair: { name: 'Fair', key: '2', says: 'reading: fair', then: 'stays' },
  before: { name: 'Before', key: '3', says: 'reading: before', then: 'stays' },
  'to the text': { name: 'To the text', key: 'Escape', says: 'to the text', then: 'text' },
} as const satisfies Record<string, Omit<Entry, 'where'>>;

const inMargin = {
  'next thread': { name: 'Next thread', key: 'j', says: 'next thread', then: 'stays' },
  'previous thread': { name: 'Previous thread', key: 'k', says: 'previous thread', then: 'stays' },
  'next query': { name: 'Next query', key: 'q', says: 'next query', then: 'stays' },
  'previous query': { name: 'Previous query', key: 'Shift-q', says: 'the query before', then: 'stays' },
  reply: { name: 'Reply', key: 'r', says: 'reply', then: 'there' },
  resolve: { name: 'Resolve', key: 'd', says: 'resolve, or reopen', then: 'stays' },
  'open thread': { name: 'Open', key: 'Enter', says: 'open the thread', then: 'stays' },
  'leave margin': { name: 'To the text', key: 'Escape', says: 'to the text', then: 'text' },
} as const satisfies Record<string, Omit<Entry, 'where'>>;

const inLook = {
  'next finding': { name: 'Next finding', key: 'j', says: 'next finding', then: 'stays' },
  'previous finding': { name: 'Previous finding', key: 'k', says: 'previous finding', then: 'stays' },
  ...Object.fromEntries(
    [1, 2, 3, 4, 5, 6].map((n) => [
      `proposal ${n}`,
      {
        name: `Proposal ${n}`,
        key: String(n),
        ...(n === 1 && { says: 'the first proposal, and so on' }),
        then: 'stays',
      } as const,
    ]),
  ),
  'leave finding': { name: 'Leave this one', key: 'l', says: 'leave this one', then: 'stays' },
  'leave all such': { name: 'Leave all such', key: 'Shift-l', says: 'leave all such', then: 'stays' },
  'keep word': { name: 'A word of this text', key: 'w', says: 'keep the word for this text', then: 'stays' },
  'leave look': { name: 'To the text', key: 'Escape', says: 'to the text', then: 'text' },
} as const satisfies Record<string, Omit<Entry, 'where'>>;

const edits = (of: Record<string, [name: string, edit: Command, key?: string]>) =>
  Object.fromEntries(
    Object.entries(of).map(([id, [name, edit, key]]): [string, Omit<Entry, 'where'>] => [
      id,
      { name, edit, then: 'text', ...(key && { key, says: name.toLowerCase() }) },
    ]),
  );

/** The paragraph styles as a menu names them. */
export const styleLabels: [ParagraphStyle, string][] = [
  ['body', 'Body text'],
  ['title', 'Title'],
  ['heading1', 'Heading 1'],
  ['heading2', 'Heading 2'],
  ['heading3', 'Heading 3'],
  ['quotation', 'Quotation'],
];

export const styleCommand = (style: ParagraphStyle): string => `style ${style}`;
export const highlightCommand = (tint: Tint): string => `highlight ${tint}`;

const onSheet: Record<string, Omit<Entry, 'where'>> = {
  ...edits(
    Object.fromEntries(styleLabels.map(([style, name]) => [styleCommand(style), [name, setStyle(style)]] as const)),
  ),
  ...edits({
    bold: ['Bold', toggleMark(schema.marks.bold), 'Mod-b'],
    italic: ['Italic', toggleMark(schema.marks.italic), 'Mod-i'],
    underline: ['Underline', toggleMark(schema.marks.underline), 'Mod-u'],
    bulleted: ['Bulleted', toggleList('bullet')],
    numbered: ['Numbered', toggleList('number')],
    'level in': ['A level in', shiftLevel(1)],
    'level out': ['A level out', shiftLevel(-1)],
    centred: ['Centred', toggleAlign('center')],
    right: ['To the right', toggleAlign('right')],
    justified: ['Justified', toggleAlign('justify')],
    'right to left': ['Runs right to left', toggleDirection('rtl')],
    'left to right': ['Runs left to right', toggleDirection('ltr')],
    indent: ['Indent', shiftIndent(1)],
    'indent less': ['Indent less', shiftIndent(-1)],
    'row above': ['Row above', addRow('above')],
    'row below': ['Row below', addRow('below')],
    'column before': ['Column before', addColumn('before')],
    'column behind': ['Column behind', addColumn('behind')],
    'merge right': ['Merge with the cell at the right', mergeCell('right')],
    'merge down': ['Merge with the cell below', mergeCell('down')],
    'split cell': ['Split this cell', splitCell],
    'header row': ['Header row', toggleHeaderRow],
    'delete row': ['Delete this row', deleteRow],
    'delete column': ['Delete this column', deleteColumn],
    'delete table': ['Delete the table', deleteTable],
    rule: ['Line across', insertRule],
    undo: ['Undo', undo, 'Mod-z'],
    redo: ['Redo', redo, 'Shift-Mod-z'],
  }),
  // The caret goes into the note itself.
  footnote: { name: 'Footnote', edit: insertFootnote(''), then: 'there' },
  picture: { name: 'Picture…', then: 'there' },
  table: { name: 'Table…', then: 'there' },
  words: { name: 'Colour, size, language…', then: 'there' },
  link: { name: 'Link', key: 'Mod-k', says: 'make a link, change it or take it away', then: 'there' },
  ...Object.fromEntries(
    tints.map((tint) => [highlightCommand(tint), { name: `Highlight in ${tint}`, then: 'text' } as const]),
  ),
};

const placed = (where: Where, entries: Record<string, Omit<Entry, 'where'>>): Record<string, Entry> =>
  Object.fromEntries(Object.entries(entries).map(([id, entry]) => [id, { ...entry, where }]));

/** All commands, by a name that stays the same. */
export const commands: Readonly<Record<string, Entry>> = {
  ...placed('anywhere', anywhere),
  ...placed('read-through', inReadThrough),
  ...placed('talk margin', inMargin),
  ...placed('last look', inLook),
  ...placed('sheet', onSheet),
};

/** @throws Error where there is no such command */
export function commandNamed(id: string): Entry {
  const entry = commands[id];
  if (!entry) throw new Error(`There is no command “${id}”.`);
  return entry;
}

/** The words of a key as a keyboard has them. */
export const keyWords = (key: string): string =>
  key
    .split('-')
    .map((part) => ({ Mod: 'Ctrl', Escape: 'Esc' })[part] ?? (part.length === 1 ? part.toUpperCase() : part))
    .join(' ');

/** What a button says on pointing: what its command does, with its key. */
export const titleOf = (id: string): string => {
  const { says, name, key } = commandNamed(id);
  const words = says ? says[0]!.toUpperCase() + says.slice(1) : name;
  return key ? `${words} (${keyWords(key)})` : words;
};

/** The command of a key in a place; null where it is none. */
export function commandOf(event: Pick<KeyboardEvent, 'key' | 'shiftKey'>, where: Where): string | null {
  const { key, shiftKey } = event;
  const plain = key.length === 1 ? key.toLowerCase() : key;
  // A sign that is typed with Shift is itself: the question mark, say, on many keyboards.
  const letter = plain.toLowerCase() !== plain.toUpperCase();
  const pressed = shiftKey && letter ? `Shift-${plain}` : plain;
  const found = Object.entries(commands).find(([, entry]) => entry.where === where && entry.key === pressed);
  return found?.[0] ?? null;
}
