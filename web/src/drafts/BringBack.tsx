import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  RadioGroup,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { counted } from '@tea-pencil/core';
import type { BringBackHow, BroughtBack } from '@tea-pencil/wire';
import { request } from '../api/client';
import { keys } from '../api/keys';
import { useStillHere } from '../kit/use-still-here';
import { useOpened } from '../opened/opened';
import { takeActBack } from './taking-back';

interface Props {
  version: number;
  name: string;
  onClose(): void;
}

/** Brings an earlier state back: in pencil, in ink, or as a manuscript of its own. */
export function BringBack({ version, name, onClose }: Props) {
  const { info, may, say, sayDone, toPage, toText } = useOpened();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const isHere = useStillHere();
  const [how, setHow] = useState<BringBackHow | 'own'>('pencil');
  const bring = useMutation({
    mutationFn: async () => {
      if (how === 'own') {
        const { id } = await request<{ id: string }>('POST', `/manuscripts/${info.id}/versions/${version}/copy`);
        void queries.invalidateQueries({ queryKey: keys.desk });
        const open = () => void navigate(`/m/${id}`);
        return isHere() ? open() : sayDone(`“${name}” is a manuscript of its own now.`, open, 'Open it');
      }
      const { act, changes } = await request<BroughtBack>('POST', `/manuscripts/${info.id}/back`, { version, how });
      const goesOn = isHere();
      onClose();
      if (act === null) return say('The text reads like that already; nothing was changed.');
      const done =
        how === 'pencil' ? `${counted(changes, 'change')} lead back to “${name}”.` : `“${name}” is the text again.`;
      sayDone(done, () => {
        takeActBack(info.id, act).then(
          (otherwise) => say(otherwise ?? 'What was brought back is taken back.'),
          (problem: Error) => say(problem.message),
        );
      });
      if (!goesOn) return;
      await toPage('text');
      toText();
    },
    onError: ({ message }) => say(message),
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          bring.mutate();
        }}
      >
        <DialogTitle>Bring “{name}” back</DialogTitle>
        <DialogContent>
          <RadioGroup
            aria-label="How it comes back"
            value={how}
            onChange={(_, next) => setHow(next as typeof how)}
            sx={{ gap: 1 }}
          >
            {may.write && (
              <FormControlLabel
                value="pencil"
                control={<Radio />}
                label="In pencil: as changes that can be decided one by one"
              />
            )}
            <FormControlLabel
              value="ink"
              disabled={!may.ink}
              control={<Radio />}
              label="In ink: it is the text, with what was pending then"
            />
            {may.takeAway && (
              <FormControlLabel
                value="own"
                control={<Radio />}
                label="As a manuscript of its own, on your desk alone"
              />
            )}
          </RadioGroup>
          <p className="second">
            The text as it is now is kept as a draft first. Threads stay with their words, and the act can be taken
            back.
          </p>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="contained" loading={bring.isPending}>
            Bring it back
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
