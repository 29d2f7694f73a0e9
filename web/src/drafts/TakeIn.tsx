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
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { counted, endingsTaken, plural } from '@tea-pencil/core';
import type { Drafts, ReturnedFile } from '@tea-pencil/wire';
import { FileChooser } from '../kit/FileChooser';
import { Refused, sendFile } from '../api/client';
import { keys } from '../api/keys';
import { said } from '../kit/time';
import { useStillHere } from '../kit/use-still-here';
import { useOpened } from '../opened/opened';
import { takeActBack } from './taking-back';
import { nameOfDraft } from './words';

interface Props {
  all: Drafts;
  onClose(): void;
}

/** A file that has come back of a draft: what it records, and what was done to it without being recorded. */
export function TakeIn({ all, onClose }: Props) {
  const { info, say, toPage, toText, nameOf } = useOpened();
  const queries = useQueryClient();
  const [version, setVersion] = useState(all.version);
  const [sender, setSender] = useState('');
  const [part, setPart] = useState<number | null>(null);
  const [refusal, setRefusal] = useState('');
  /** A file that has next to nothing in common with the draft. */
  const [apart, setApart] = useState<File | null>(null);
  const [came, setCame] = useState<{ name: string; result: ReturnedFile } | null>(null);
  const stop = useRef<AbortController | null>(null);
  const isHere = useStillHere();
  const picker = useRef<HTMLInputElement>(null);
  const choose = (draft: number) => {
    // What was said was said of another draft.
    setRefusal('');
    setApart(null);
    setVersion(draft);
  };
  const close = () => {
    stop.current?.abort();
    onClose();
  };
  const take = async (file: File, anyway = false) => {
    setRefusal('');
    setApart(null);
    setPart(0);
    stop.current = new AbortController();
    try {
      const path = `/manuscripts/${info.id}/returned?version=${version}&sender=${sender}&anyway=${anyway ? 'yes' : ''}`;
      const result = await sendFile<ReturnedFile>(path, file, setPart, stop.current.signal);
      void queries.invalidateQueries({ queryKey: keys.drafts(info.id) });
      void queries.invalidateQueries({ queryKey: keys.manuscript(info.id) });
      setCame({ name: file.name, result });
      if (!isHere()) say(`“${file.name}” has been taken in.`);
    } catch (problem) {
      const { message, status } = problem as Refused;
      // Refused it was; what was not answered may have been done.
      const says = status >= 400 && status < 500 ? `${message} Nothing was changed.` : message;
      setRefusal(says);
      if (!isHere() && !stop.current.signal.aborted) say(says);
      setApart(problem instanceof Refused && problem.status === 409 ? file : null);
    }
    setPart(null);
  };
  if (came)
    return (
      <Came
        {...came}
        nameOf={nameOf}
        onClose={onClose}
        onText={() => void toPage('text').then(toText)}
        onBack={async (act) => {
          try {
            say((await takeActBack(info.id, act)) ?? 'What came in the file is taken back.');
            onClose();
          } catch (problem) {
            say((problem as Error).message);
          }
        }}
      />
    );
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>A file that has come back</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
        <p className="second" style={{ margin: 0 }}>
          It is laid against the draft that was sent out. What it records stays its people’s; what was changed in it
          without being recorded becomes changes of whoever sent it. What has come to the text meanwhile stays.
        </p>
        <SentOut {...{ all, version }} setVersion={choose} />
        <Sender {...{ sender, setSender }} />
        {refusal && (
          <Box role="alert" sx={{ color: 'secondary.main' }}>
            {refusal}
          </Box>
        )}
        {part !== null && (
          <div role="status">
            {part < 1 ? 'Sending …' : 'Reading it, and laying it against the draft …'}
            <LinearProgress
              variant={part < 1 ? 'determinate' : 'indeterminate'}
              value={part * 100}
              aria-label="Progress"
            />
          </div>
        )}
        <FileChooser
          ref={picker}
          label="A file that came back"
          accept={endingsTaken}
          onChoose={([file]) => void take(file!)}
        />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          {part === null ? 'Cancel' : 'Stop'}
        </Button>
        {apart && (
          <Button color="inherit" onClick={() => void take(apart, true)}>
            Replace the whole text all the same
          </Button>
        )}
        <Button variant="contained" disabled={part !== null} onClick={() => picker.current?.click()}>
          Choose the file
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface CameProps {
  name: string;
  result: ReturnedFile;
  nameOf(person: string): string;
  onClose(): void;
  onText(): void;
  onBack(act: string): Promise<void>;
}

/** What came of it, in one sentence first. */
function Came({ name, result, nameOf, onClose, onText, onBack }: CameProps) {
  const { act, unrecorded, recorded, meetings, decided, sender, comments, losses } = result;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>
        {unrecorded
          ? `Nothing was changed behind your back, except ${unrecorded === 1 ? 'this one' : `these ${unrecorded}`}`
          : 'Nothing was changed behind your back'}
      </DialogTitle>
      <DialogContent>
        <ul className="came">
          <li>
            {counted(recorded, 'change')} {plural(recorded, 'is', 'are')} recorded in “{name}”.
          </li>
          {unrecorded > 0 && (
            <li>
              {counted(unrecorded, 'change')} {plural(unrecorded, 'was', 'were')} made without being recorded; now they
              are changes by {nameOf(sender)}, to be decided like any other.
            </li>
          )}
          {meetings > 0 && (
            <li>
              {counted(meetings, 'change')} {plural(meetings, 'stands', 'stand')} where somebody has changed the text
              meanwhile. Both are kept.
            </li>
          )}
          {decided > 0 && (
            <li>
              {counted(decided, 'change')} that went along {plural(decided, 'was', 'were')} decided in the file. Here{' '}
              {plural(decided, 'it waits as it', 'they wait as they')} did.
            </li>
          )}
          {comments > 0 && (
            <li>
              {counted(comments, 'new comment')} of the file {plural(comments, 'is', 'are')} not taken in.
            </li>
          )}
          {losses.map(({ what, howMany }) => (
            <li key={what}>
              Not held: {howMany} × {what}
            </li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        {act !== null && (
          <Button color="inherit" onClick={() => void onBack(act)}>
            Take it back
          </Button>
        )}
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
        <Button variant="contained" onClick={onText}>
          To the text
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface SentOutProps {
  all: Drafts;
  version: number;
  setVersion(version: number): void;
}

/** Which state of the text was sent out. */
function SentOut({ all, version, setVersion }: SentOutProps) {
  const states = [
    { version: all.version, label: 'the text as it is now' },
    ...all.drafts
      .filter((draft) => draft.version < all.version)
      .map((draft) => ({ version: draft.version, label: `${nameOfDraft(draft)}, ${said(draft.at)}` })),
  ];
  const unique = states.filter((state, i) => states.findIndex((one) => one.version === state.version) === i);
  return (
    <TextField
      select
      size="small"
      label="The draft that was sent out"
      value={version}
      onChange={({ target }) => setVersion(Number(target.value))}
    >
      {unique.map((state) => (
        <MenuItem key={state.version} value={state.version}>
          {state.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Whose are the changes that were made without being recorded. */
function Sender({ sender, setSender }: { sender: string; setSender(person: string): void }) {
  const { info } = useOpened();
  return (
    <TextField
      select
      size="small"
      label="Who sent it back"
      value={sender}
      onChange={({ target }) => setSender(target.value)}
    >
      <MenuItem value="">whoever has recorded the most in it</MenuItem>
      {info.people
        .filter(({ id, is }) => id === is)
        .map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
    </TextField>
  );
}
