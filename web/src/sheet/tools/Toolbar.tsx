import { Box, Button, MenuItem, Select, Tooltip } from '@mui/material';
import { redoDepth } from 'prosemirror-history';
import type { EditorState } from 'prosemirror-state';
import { memo, useRef, type ReactNode } from 'react';
import { isInTable, linkAt, schema, type MarkName, type ParagraphStyle } from '@tea-pencil/core';
import { FileChooser, pictureTypes } from '../../kit/FileChooser';
import { useActs, useCommands } from '../../commands/acts';
import { commandNamed, styleCommand, styleLabels, titleOf } from '../../commands/table';
import { useFocusRule } from '../../kit/focus';
import { useWidth } from '../../kit/width';
import type { MyDecisions } from '../../live/my-decisions';
import { useOpened } from '../../opened/opened';
import type { Pictures } from '../editor/pictures';
import { CommandMenu } from './CommandMenu';
import { LinkMenu } from './LinkMenu';
import { RemarkMenu } from './RemarkMenu';
import { TableMenu } from './TableMenu';
import { WordsMenu } from './WordsMenu';

const isOn = (state: EditorState, name: MarkName) => {
  const type = schema.marks[name];
  const { from, to, empty, $from } = state.selection;
  return empty ? !!type.isInSet(state.storedMarks ?? $from.marks()) : state.doc.rangeHasMark(from, to, type);
};

/** What the toolbar shows of the text, as plain values, so that typing draws it anew only where one of them changes. */
export const toolFacts = (state: EditorState, mine: MyDecisions) => ({
  style: state.selection.$from.parent.attrs.style as ParagraphStyle,
  bold: isOn(state, 'bold'),
  italic: isOn(state, 'italic'),
  underline: isOn(state, 'underline'),
  inTable: isInTable(state),
  linkable: linkAt(state) !== null,
  redoable: redoDepth(state) > 0 || mine.next(state) !== null,
});

interface Props extends ReturnType<typeof toolFacts> {
  pictures: Pictures;
  mayWrite: boolean;
}

/** A button of a command in the table. */
function Tool({ id, face, pressed, disabled }: { id: string; face: ReactNode; pressed?: boolean; disabled: boolean }) {
  const acts = useActs();
  return (
    <Tooltip title={titleOf(id)}>
      <span>
        <Button
          color="inherit"
          aria-label={typeof face === 'string' && face === commandNamed(id).name ? undefined : commandNamed(id).name}
          aria-pressed={pressed}
          disabled={disabled}
          onClick={() => acts.do(id)}
          sx={{
            px: 0.9,
            py: 0.2,
            color: pressed ? 'text.primary' : 'text.secondary',
            bgcolor: pressed ? 'background.paper' : undefined,
          }}
        >
          {face}
        </Button>
      </span>
    </Tooltip>
  );
}

/** The style of the paragraph. It has the keyboard while it is open only; then the text has it again. */
function StyleChoice({ style, disabled }: { style: ParagraphStyle; disabled: boolean }) {
  const acts = useActs();
  const rule = useFocusRule();
  return (
    <Select
      variant="standard"
      disableUnderline
      value={styleLabels.some(([name]) => name === style) ? style : 'body'}
      disabled={disabled}
      inputProps={{ 'aria-label': 'Paragraph style' }}
      sx={{ fontSize: 13, mr: 1, width: 96 }}
      onChange={(event) => acts.do(styleCommand(event.target.value as ParagraphStyle))}
      MenuProps={{
        disableRestoreFocus: true,
        transitionDuration: 0,
        slotProps: { transition: { onExited: rule?.giveToText } },
      }}
    >
      {styleLabels.map(([name, label]) => (
        <MenuItem key={name} value={name}>
          {label}
        </MenuItem>
      ))}
    </Select>
  );
}

/** A file chosen for a picture goes where the caret is. */
function PictureFile({ pictures }: { pictures: Pictures }) {
  const { sheet } = useOpened();
  const files = useRef<HTMLInputElement>(null);
  useCommands({ picture: () => files.current?.click() });
  return (
    <FileChooser
      ref={files}
      accept={pictureTypes}
      label="Picture file"
      onChoose={(chosen) => {
        const { view } = sheet.get();
        if (view) void pictures.insert(view, chosen);
      }}
    />
  );
}

const insertable = ['picture', 'table', 'footnote', 'rule'];
const ofTable = [
  ...['row above', 'row below', 'column before', 'column behind', 'header row'],
  ...['merge right', 'merge down', 'split cell'],
  ...['delete row', 'delete column', 'delete table'],
];
/** What stands in menus of its own where there is room. */
const folded = [
  ...['underline', 'words', 'link', 'bulleted', 'numbered', 'level in', 'level out'],
  ...['centred', 'right', 'justified', 'indent', 'indent less', 'right to left', 'left to right'],
];

/** The quiet line of commands above the sheet. */
export const Toolbar = memo(function Toolbar({ pictures, mayWrite, ...facts }: Props) {
  const { may } = useOpened();
  const closed = !mayWrite;
  const phone = useWidth() === 'phone';
  return (
    <Box role="toolbar" aria-label="Editing" sx={{ display: 'flex', alignItems: 'center', gap: 0.25, minHeight: 36 }}>
      <StyleChoice style={facts.style} disabled={closed} />
      <Tool id="bold" face={<b>B</b>} pressed={facts.bold} disabled={closed} />
      <Tool id="italic" face={<i className="serif">I</i>} pressed={facts.italic} disabled={closed} />
      {phone ? (
        <CommandMenu
          label="Tools"
          title="Links, lists, alignment, and what can be put in"
          disabled={closed}
          commands={[...folded, ...(facts.inTable ? ['picture', 'footnote', ...ofTable] : insertable), 'find']}
        />
      ) : (
        <Tool id="underline" face={<u>U</u>} pressed={facts.underline} disabled={closed} />
      )}
      <WordsMenu disabled={closed} hidden={phone} />
      <LinkMenu disabled={closed || !facts.linkable} hidden={phone} />
      {!phone && (
        <>
          <CommandMenu
            label="List"
            title="Make a list of these paragraphs, or paragraphs of a list"
            disabled={closed}
            commands={['bulleted', 'numbered', 'level in', 'level out']}
          />
          <CommandMenu
            label="Align"
            title="Alignment, indentation and direction of these paragraphs"
            disabled={closed}
            commands={['centred', 'right', 'justified', 'indent', 'indent less', 'right to left', 'left to right']}
          />
          <CommandMenu
            label="Insert"
            title="A picture, a table, a footnote, a line across"
            disabled={closed}
            commands={facts.inTable ? insertable.filter((id) => id !== 'table' && id !== 'rule') : insertable}
          />
          {facts.inTable && (
            <CommandMenu label="Table" title="Rows and columns of this table" disabled={closed} commands={ofTable} />
          )}
        </>
      )}
      <TableMenu />
      <PictureFile pictures={pictures} />
      <Tool id="undo" face="↶" disabled={closed} />
      <Tool id="redo" face="↷" disabled={closed || !facts.redoable} />
      <Box sx={{ flex: 1 }} />
      {!phone && <Tool id="find" face="Find" disabled={false} />}
      <Tool id="comment" face="Comment" disabled={!may.remark} />
      <RemarkMenu disabled={!may.remark} />
    </Box>
  );
});
