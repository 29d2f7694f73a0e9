import { Box, Button, MenuItem, Select, Tooltip } from '@mui/material';
import { toggleMark } from 'prosemirror-commands';
import { redo, redoDepth, undo, undoDepth } from 'prosemirror-history';
import type { Command, EditorState } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import type { ReactNode } from 'react';
import {
  addColumn,
  addRow,
  deleteColumn,
  deleteRow,
  deleteTable,
  insertRule,
  insertTable,
  isInTable,
  schema,
  toggleHeaderRow,
  type ParagraphStyle,
} from '@tea-pencil/core';
import { setStyle, shiftIndent, toggleAlign, toggleList } from '../editor/keys';
import { CommandMenu } from './CommandMenu';

const styleLabels: [ParagraphStyle, string][] = [
  ['body', 'Body text'],
  ['title', 'Title'],
  ['heading1', 'Heading 1'],
  ['heading2', 'Heading 2'],
  ['heading3', 'Heading 3'],
  ['quotation', 'Quotation'],
];

const isOn = (state: EditorState, name: string) => {
  const type = schema.marks[name]!;
  const { from, to, empty, $from } = state.selection;
  return empty ? !!type.isInSet(state.storedMarks ?? $from.marks()) : state.doc.rangeHasMark(from, to, type);
};

interface Props {
  view: EditorView | null;
  state: EditorState;
  mayWrite: boolean;
  mayRemark: boolean;
  onComment(): void;
}

/** The quiet line of commands above the sheet. */
export function Toolbar({ view, state, mayWrite, mayRemark, onComment }: Props) {
  const run = (command: Command) => {
    if (!view) return;
    command(view.state, view.dispatch, view);
    view.focus();
  };
  const tool = (
    label: string,
    title: string,
    command: Command,
    content: ReactNode,
    pressed?: boolean,
    disabled?: boolean,
  ) => (
    <Tooltip title={title} key={label}>
      <span>
        <Button
          color="inherit"
          aria-label={label}
          aria-pressed={pressed}
          disabled={!mayWrite || disabled}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => run(command)}
          sx={{
            px: 0.9,
            py: 0.2,
            color: pressed ? 'text.primary' : 'text.secondary',
            bgcolor: pressed ? 'background.paper' : undefined,
          }}
        >
          {content}
        </Button>
      </span>
    </Tooltip>
  );
  const { style, list } = state.selection.$from.parent.attrs as {
    style: ParagraphStyle;
    list: { kind: string } | null;
  };
  return (
    <Box
      role="toolbar"
      aria-label="Editing"
      sx={{ width: 640, display: 'flex', alignItems: 'center', gap: 0.25, height: 36 }}
    >
      <Select
        variant="standard"
        disableUnderline
        value={styleLabels.some(([name]) => name === style) ? style : 'body'}
        disabled={!mayWrite}
        inputProps={{ 'aria-label': 'Paragraph style' }}
        sx={{ fontSize: 13, mr: 1, width: 96 }}
        onChange={(event) => run(setStyle(event.target.value as ParagraphStyle))}
      >
        {styleLabels.map(([name, label]) => (
          <MenuItem key={name} value={name}>
            {label}
          </MenuItem>
        ))}
      </Select>
      {tool('Bold', 'Bold', toggleMark(schema.marks.bold!), <b>B</b>, isOn(state, 'bold'))}
      {tool('Italic', 'Italic', toggleMark(schema.marks.italic!), <i className="serif">I</i>, isOn(state, 'italic'))}
      {tool('Underline', 'Underline', toggleMark(schema.marks.underline!), <u>U</u>, isOn(state, 'underline'))}
      {tool(
        'Bulleted list',
        'Make a bulleted list of these paragraphs',
        toggleList('bullet'),
        '•',
        list?.kind === 'bullet',
      )}
      {tool(
        'Numbered list',
        'Make a numbered list of these paragraphs',
        toggleList('number'),
        '1.',
        list?.kind === 'number',
      )}
      <CommandMenu
        label="More"
        title="Strike, super- and subscript, highlight, alignment, indentation"
        disabled={!mayWrite}
        run={run}
        commands={[
          ['Strike', toggleMark(schema.marks.strike!)],
          ['Superscript', toggleMark(schema.marks.script!, { value: 'super' })],
          ['Subscript', toggleMark(schema.marks.script!, { value: 'sub' })],
          ['Highlight', toggleMark(schema.marks.highlight!, { value: 'tea' })],
          ['Centred', toggleAlign('center')],
          ['To the right', toggleAlign('right')],
          ['Justified', toggleAlign('justify')],
          ['Indent', shiftIndent(1)],
          ['Indent less', shiftIndent(-1)],
        ]}
      />
      {isInTable(state) ? (
        <CommandMenu
          label="Table"
          title="Rows and columns of this table"
          disabled={!mayWrite}
          run={run}
          commands={[
            ['Row above', addRow('above')],
            ['Row below', addRow('below')],
            ['Column before', addColumn('before')],
            ['Column behind', addColumn('behind')],
            ['Header row', toggleHeaderRow],
            ['Delete this row', deleteRow],
            ['Delete this column', deleteColumn],
            ['Delete the table', deleteTable],
          ]}
        />
      ) : (
        <CommandMenu
          label="Insert"
          title="A table, a line across"
          disabled={!mayWrite}
          run={run}
          commands={[
            ['Table, 3 by 3', insertTable(3, 3)],
            ['Line across', insertRule],
          ]}
        />
      )}
      {tool('Undo', 'Take back what you did last', undo, 'Undo', undefined, undoDepth(state) === 0)}
      {tool('Redo', 'Do again what you took back', redo, 'Redo', undefined, redoDepth(state) === 0)}
      <Box sx={{ flex: 1 }} />
      <Tooltip title="Comment on the selected words (F4)">
        <span>
          <Button
            color="inherit"
            disabled={!mayRemark}
            onMouseDown={(event) => event.preventDefault()}
            onClick={onComment}
            sx={{ py: 0.2, color: 'text.secondary' }}
          >
            Comment
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}
