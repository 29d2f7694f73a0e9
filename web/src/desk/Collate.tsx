import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  MenuItem,
  TextField,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useEffect, useId, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { counted, endingsTaken, plural } from '@tea-pencil/core';
import type { CollatedTexts, DeskLine } from '@tea-pencil/wire';
import { FileChooser } from '../kit/FileChooser';
import { Refused, sendForm } from '../api/client';
import { keys } from '../api/keys';

/** A text that has been chosen: a manuscript of one’s desk, or a file. */
type Chosen = { manuscript: string } | { file: File } | null;

const aFile = ' file';

interface Props {
  lines: readonly DeskLine[];
  onClose(): void;
}

/** Lays two texts together, from the desk or from files, as a manuscript whose changes are what differs. */
export function Collate({ lines, onClose }: Props) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const [before, setBefore] = useState<Chosen>(null);
  const [after, setAfter] = useState<Chosen>(null);
  const [other, setOther] = useState<Chosen>(null);
  const [pending, setPending] = useState('fair');
  const [name, setName] = useState('');
  const [otherName, setOtherName] = useState('');
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const collate = useMutation<CollatedTexts, Refused | Error, boolean>({
    mutationFn: (anyway) => {
      const form = new FormData();
      const texts = { before, after, ...(other && { other }) };
      for (const [key, value] of Object.entries({ pending, name, otherName, ...(anyway && { anyway: 'yes' }) }))
        form.append(key, value);
      for (const [place, text] of Object.entries(texts))
        if (text) form.append(place, 'file' in text ? text.file : text.manuscript);
      stop.current = new AbortController();
      return sendForm<CollatedTexts>('/collations', form, stop.current.signal);
    },
    onSuccess: ({ id, changes, meetings }) => {
      void queries.invalidateQueries({ queryKey: keys.desk });
      const met = meetings ? ` Where ${counted(meetings, 'change')} of both meet, both are kept.` : '';
      enqueueSnackbar(`${counted(changes, 'difference')} ${plural(changes, 'is a change', 'are changes')} now.${met}`);
      onClose();
      void navigate(`/m/${id}`);
    },
  });
  const apart = collate.error instanceof Refused && collate.error.status === 409;
  // What was said was said of other texts.
  const choosing = (set: (chosen: Chosen) => void) => (chosen: Chosen) => {
    collate.reset();
    set(chosen);
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          collate.mutate(apart);
        }}
      >
        <DialogTitle>Collate two texts</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
          <p className="second" style={{ margin: 0 }}>
            What the later text has and the earlier has not becomes changes in a manuscript of its own, to be decided
            one by one. The texts themselves stay as they are.
          </p>
          <TextChoice label="The earlier text" lines={lines} chosen={before} onChoose={choosing(setBefore)} />
          <TextChoice label="The later text" lines={lines} chosen={after} onChoose={choosing(setAfter)} />
          <TextField
            size="small"
            label="Who made the later one"
            value={name}
            onChange={({ target }) => setName(target.value)}
            helperText="The name at the changes."
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <TextChoice
            label="Another revision of the earlier text, if there is one"
            lines={lines}
            chosen={other}
            onChoose={choosing(setOther)}
          />
          {other && (
            <TextField
              size="small"
              label="Who made that one"
              value={otherName}
              onChange={({ target }) => setOtherName(target.value)}
              slotProps={{ htmlInput: { maxLength: 120 } }}
            />
          )}
          {other ? (
            <p className="second" style={{ margin: 0 }}>
              What is recorded in the texts stays under its people’s names.
            </p>
          ) : (
            <TextField
              select
              size="small"
              label="Changes that are pending in the texts"
              value={pending}
              onChange={({ target }) => setPending(target.value)}
            >
              <MenuItem value="fair">read as if all were accepted</MenuItem>
              <MenuItem value="before">read as if all were rejected</MenuItem>
              <MenuItem value="kept">stay as they are</MenuItem>
            </TextField>
          )}
          {collate.isPending && (
            <div role="status">
              Reading both, and laying them together …
              <LinearProgress aria-label="Progress" />
            </div>
          )}
          {collate.isError && (
            <Box role="alert" sx={{ color: 'secondary.main' }}>
              {collate.error.message}
              {apart && ' Laid together, one replaces the other as a whole.'}
            </Box>
          )}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            {collate.isPending ? 'Stop' : 'Cancel'}
          </Button>
          <Button type="submit" variant="contained" disabled={!before || !after || collate.isPending}>
            {apart ? 'Collate all the same' : 'Collate'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

interface ChoiceProps {
  label: string;
  lines: readonly DeskLine[];
  chosen: Chosen;
  onChoose(chosen: Chosen): void;
}

/** A manuscript of the desk, or a file. */
function TextChoice({ label, lines, chosen, onChoose }: ChoiceProps) {
  const id = useId();
  const picker = useRef<HTMLInputElement>(null);
  const value = chosen === null ? '' : 'file' in chosen ? aFile : chosen.manuscript;
  return (
    <>
      <TextField
        select
        size="small"
        id={id}
        label={label}
        value={value}
        onChange={({ target }) => {
          if (target.value === aFile) picker.current?.click();
          else onChoose(target.value ? { manuscript: target.value } : null);
        }}
        slotProps={{
          select: { renderValue: () => (chosen && 'file' in chosen ? chosen.file.name : nameIn(lines, value)) },
        }}
      >
        <MenuItem value={aFile}>
          <em>A file …</em>
        </MenuItem>
        {chosen && <MenuItem value="">None</MenuItem>}
        {lines
          .filter(({ takesAway }) => takesAway)
          .map((line) => (
            <MenuItem key={line.id} value={line.id}>
              {line.title}
            </MenuItem>
          ))}
      </TextField>
      <FileChooser
        ref={picker}
        label={`File: ${label}`}
        accept={endingsTaken}
        onChoose={([file]) => onChoose({ file: file! })}
      />
    </>
  );
}

const nameIn = (lines: readonly DeskLine[], id: string) => lines.find((line) => line.id === id)?.title ?? '';
