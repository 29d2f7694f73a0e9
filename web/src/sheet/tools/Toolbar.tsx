import { Box, Button, MenuItem, Select, Tooltip } from '@mui/material';
import { toggleMark } from 'prosemirror-commands';
import { redo, redoDepth, undo, undoDepth } from 'prosemirror-history';
import type { Command, EditorState } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { memo, useRef, type ReactNode } from 'react';
import {
  addColumn,
  addRow,
  deleteColumn,
  deleteRow,
  deleteTable,
  insertFootnote,
  insertRule,
  insertTable,
  isInTable,
  linkAt,
  schema,
  setStyle,
  shiftIndent,
  shiftLevel,
  toggleAlign,
  toggleHeaderRow,
  toggleList,
  type ParagraphStyle,
  type Tint,
} from '@tea-pencil/core';
import type { Pictures } from '../editor/pictures';
import { CommandMenu } from './CommandMenu';
import { LinkMenu } from './LinkMenu';
import { RemarkMenu } from './RemarkMenu';
import { styleLabels } from '../../kit/style-names';
import { WordsMenu } from './WordsMenu';

const isOn = (state: EditorState, name: string) => {
  const type = schema.marks[name]!;
  const { from, to, empty, $from } = state.selection;
  return empty ? !!type.isInSet(state.storedMarks ?? $from.marks()) : state.doc.rangeHasMark(from, to, type);
};

/** What the toolbar shows of the text, as plain values, so that typing draws it anew only where one of them changes. */
export const toolFacts = (state: EditorState) => ({
  style: state.selection.$from.parent.attrs.style as ParagraphStyle,
  bold: isOn(state, 'bold'),
  italic: isOn(state, 'italic'),
  underline: isOn(state, 'underline'),
  inTable: isInTable(state),
  linkable: linkAt(state) !== null,
  undoable: undoDepth(state) > 0,
  redoable: redoDepth(state) > 0,
});

interface Props extends ReturnType<typeof toolFacts> {
  view: EditorView | null;
  pictures: Pictures;
  mayWrite: boolean;
  mayRemark: boolean;
  onComment(): void;
  onWhole(): void;
  onHighlight(tint: Tint): void;
  onFind(): void;
}

/** The quiet line of commands above the sheet. */
export const Toolbar = memo(function Toolbar({
  view,
  pictures,
  mayWrite,
  mayRemark,
  onComment,
  onWhole,
  onHighlight,
  onFind,
  ...facts
}: Props) {
  const files = useRef<HTMLInputElement>(null);
  const choosePicture: Command = () => {
    files.current?.click();
    return true;
  };
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
  const { style } = facts;
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
      {tool('Bold', 'Bold', toggleMark(schema.marks.bold!), <b>B</b>, facts.bold)}
      {tool('Italic', 'Italic', toggleMark(schema.marks.italic!), <i className="serif">I</i>, facts.italic)}
      {tool('Underline', 'Underline', toggleMark(schema.marks.underline!), <u>U</u>, facts.underline)}
      <WordsMenu view={view} disabled={!mayWrite} run={run} />
      <LinkMenu view={view} disabled={!mayWrite || !facts.linkable} run={run} />
      <CommandMenu
        label="List"
        title="Make a list of these paragraphs, or paragraphs of a list"
        disabled={!mayWrite}
        run={run}
        commands={[
          ['Bulleted', toggleList('bullet')],
          ['Numbered', toggleList('number')],
          ['A level in', shiftLevel(1)],
          ['A level out', shiftLevel(-1)],
        ]}
      />
      <CommandMenu
        label="Align"
        title="Alignment and indentation of these paragraphs"
        disabled={!mayWrite}
        run={run}
        commands={[
          ['Centred', toggleAlign('center')],
          ['To the right', toggleAlign('right')],
          ['Justified', toggleAlign('justify')],
          ['Indent', shiftIndent(1)],
          ['Indent less', shiftIndent(-1)],
        ]}
      />
      {facts.inTable ? (
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
          title="A picture, a table, a footnote, a line across"
          disabled={!mayWrite}
          run={run}
          commands={[
            ['Picture…', choosePicture],
            ['Table, 3 by 3', insertTable(3, 3)],
            ['Footnote', insertFootnote('')],
            ['Line across', insertRule],
          ]}
        />
      )}
      <input
        ref={files}
        type="file"
        hidden
        accept="image/png,image/jpeg,image/gif,image/webp"
        aria-label="Picture file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file && view) void pictures.insert(view, file);
          event.target.value = '';
        }}
      />
      {tool('Undo', 'Take back what you did last', undo, '↶', undefined, !facts.undoable)}
      {tool('Redo', 'Do again what you took back', redo, '↷', undefined, !facts.redoable)}
      <Box sx={{ flex: 1 }} />
      <Tooltip title="Find words throughout, and replace them as one sweep (F3)">
        <Button color="inherit" onClick={onFind} sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}>
          Find
        </Button>
      </Tooltip>
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
      <RemarkMenu disabled={!mayRemark} onWhole={onWhole} onHighlight={onHighlight} />
    </Box>
  );
});
