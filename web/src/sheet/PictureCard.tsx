import { Box, Button, Paper, TextField } from '@mui/material';
import { NodeSelection, type Command, type EditorState } from 'prosemirror-state';
import { deleteSelection } from 'prosemirror-commands';
import { useRef, useState } from 'react';
import { changePicture } from '@tea-pencil/core';
import { FileChooser, pictureTypes } from '../kit/FileChooser';
import { useOpened } from '../opened/opened';
import type { Pictures } from './editor/pictures';

interface Props {
  state: EditorState;
  pictures: Pictures;
  left: number;
  top: number;
}

/** Whether a picture is selected. */
export const hasPicture = ({ selection }: EditorState): boolean =>
  selection instanceof NodeSelection && selection.node.type.name === 'image';

/** Under a selected picture: what it shows in words, how wide it is, another file, or none. */
export function PictureCard({ state, pictures, left, top }: Props) {
  const { sheet, edit, toText } = useOpened();
  const run = (command: Command) => {
    edit(command);
    toText();
  };
  const { attrs } = (state.selection as NodeSelection).node;
  const { alt, width, height } = attrs as { alt: string; width: number | null; height: number | null };
  // What is typed and not kept yet; the picture's own properties otherwise, which others may change meanwhile.
  const [typed, setTyped] = useState<{ words?: string; wide?: string }>({});
  const { words = alt, wide = String(width ?? '') } = typed;
  const files = useRef<HTMLInputElement>(null);
  const keep = () => {
    const next = Math.round(Number(wide));
    const valid = wide.trim() !== '' && next >= 1 && next <= 10_000;
    const tall = valid && width && height ? Math.max(1, Math.round((height * next) / width)) : height;
    run(changePicture({ alt: words, ...(valid && { width: next, height: tall }) }));
    setTyped({});
  };
  return (
    <Paper
      role="dialog"
      aria-label="Picture"
      elevation={0}
      className="slip"
      sx={{
        position: 'absolute',
        left,
        top,
        width: 470,
        zIndex: 9,
        p: 1.5,
        border: '1px solid',
        borderColor: 'divider',
        boxShadow: '0 8px 28px rgb(0 0 0 / 13%)',
      }}
    >
      <Box
        component="form"
        sx={{ display: 'flex', gap: 1 }}
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <TextField
          size="small"
          label="What it shows, for those who cannot see it"
          value={words}
          onChange={(event) => setTyped({ ...typed, words: event.target.value })}
          sx={{ flex: 1 }}
        />
        <TextField
          size="small"
          label="Width"
          value={wide}
          onChange={(event) => setTyped({ ...typed, wide: event.target.value })}
          slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          sx={{ width: 80 }}
        />
        <Button type="submit" variant="contained">
          Keep
        </Button>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        <Button color="inherit" onClick={() => files.current?.click()}>
          Another file…
        </Button>
        <Button color="inherit" onClick={() => run(deleteSelection)}>
          Remove
        </Button>
        <FileChooser
          ref={files}
          accept={pictureTypes}
          label="Another picture file"
          onChoose={([file]) => {
            const { view } = sheet.get();
            if (view) void pictures.replace(view, file!);
          }}
        />
      </Box>
    </Paper>
  );
}
