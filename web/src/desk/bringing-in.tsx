import { counted, plural } from '@tea-pencil/core';
import { Box, Button, LinearProgress } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useNavigate } from 'react-router';
import type { BroughtIn, Waiting } from '@tea-pencil/wire';
import { request, sendFile } from '../api/client';
import { keys } from '../api/keys';
import { meQuery } from '../api/queries';
import { Store, useStore } from '../kit/store';
import { useStillHere } from '../kit/use-still-here';
import { useTakeBack } from '../kit/use-take-back';

/** A file on its way to become a manuscript. */
interface Coming {
  name: string;
  part: number;
  stop: AbortController;
  /** Which of how many it is. */
  nth: number;
  of: number;
}

/** Files that a person brings in with this window, one after the other: it goes on, and is known, wherever they go meanwhile. */
interface Run {
  person: string;
  files: File[];
  stop: AbortController;
}
interface UnderWay {
  run: Run | null;
  coming: Coming | null;
  refusals: readonly string[];
}
const nothing: UnderWay = { run: null, coming: null, refusals: [] };
const underWay = new Store(nothing);

/** How far a run is; another person, who has signed in since, is not told. */
function tell(run: Run, part: Partial<UnderWay>): void {
  const now = underWay.get();
  if (now.run === run) underWay.set({ ...now, ...part });
}

/**
 * Brings files in, and goes to the manuscript where it was one and one is on the desk still. Whoever has gone on is told,
 * and stays where they are.
 */
export function useBringingIn(person: string) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const sayDone = useTakeBack();
  const { enqueueSnackbar } = useSnackbar();
  const onDesk = useStillHere();
  const isGone = () => !onDesk() && queries.getQueryData(meQuery.queryKey)?.id === person;

  const bringOne = async (run: Run, i: number) => {
    const { stop, files } = run;
    const file = files[i]!;
    const far = (part: number) => tell(run, { coming: { name: file.name, part, stop, nth: i + 1, of: files.length } });
    far(0);
    try {
      const { id } = await sendFile<BroughtIn>('/manuscripts/import', file, far, stop.signal);
      void queries.invalidateQueries({ queryKey: keys.desk });
      const open = () => void navigate(`/m/${id}`, { state: { justIn: true } });
      if (isGone()) sayDone(`“${file.name}” is on your desk.`, open, 'Open it');
      else if (onDesk() && files.length === 1) open();
    } catch (problem) {
      const { message } = problem as Error;
      tell(run, { refusals: [...underWay.get().refusals, message] });
      if (isGone()) enqueueSnackbar(message);
    }
  };
  const bringIn = async (files: readonly File[]) => {
    if (!files.length) return;
    const { run: before, coming } = underWay.get();
    if (coming && before?.person === person) return void before.files.push(...files);
    const run: Run = { person, files: [...files], stop: new AbortController() };
    underWay.set({ run, coming: null, refusals: [] });
    for (let i = 0; i < run.files.length && !run.stop.signal.aborted; i++) await bringOne(run, i);
    tell(run, { coming: null });
  };
  const { coming, refusals } = useStore(underWay, (now) => (now.run?.person === person ? now : nothing));
  return { coming, refusals, bringIn, understood: () => underWay.set({ ...underWay.get(), refusals: [] }) };
}

/** How far it is, and a way to stop it. */
export function Progress({ name, part, stop, nth, of }: Coming) {
  const waiting = useQuery({
    queryKey: keys.waiting,
    queryFn: () => request<Waiting>('GET', '/manuscripts/import/waiting'),
    enabled: part === 1,
    refetchInterval: 800,
    gcTime: 0,
  });
  const ahead = waiting.data?.ahead ?? 0;
  const read = part === 1 ? (waiting.data?.part ?? null) : null;
  const changes = read === null ? null : waiting.data?.changes;
  const far = changes
    ? `, changes ${changes.done.toLocaleString()} of ${changes.of.toLocaleString()}`
    : read === null
      ? ''
      : `, ${Math.floor(read * 100)} %`;
  const which = of > 1 ? `File ${nth} of ${of}: ` : '';
  return (
    <Box sx={{ mb: 3, p: 2, bgcolor: 'background.paper', border: '1px solid', borderColor: 'divider' }} role="status">
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Box sx={{ flex: 1 }}>
          {which}
          {part < 1
            ? `Sending “${name}” …`
            : ahead
              ? `“${name}” waits: ${counted(ahead, 'file')} ${plural(ahead, 'is', 'are')} read before it …`
              : `Reading “${name}”: its text, changes and comments${far} …`}
        </Box>
        <Button size="small" onClick={() => stop.abort()}>
          Stop
        </Button>
      </Box>
      <LinearProgress
        variant={part < 1 || read !== null ? 'determinate' : 'indeterminate'}
        value={(read ?? part) * 100}
        aria-label="Progress"
      />
    </Box>
  );
}

/** Why files did not come in. */
export function Refusals({ words, onClose }: { words: readonly string[]; onClose(): void }) {
  return (
    <Box
      role="alert"
      sx={{
        mb: 3,
        p: 2,
        bgcolor: 'background.paper',
        border: '1px solid',
        borderColor: 'secondary.main',
        display: 'flex',
      }}
    >
      <Box sx={{ flex: 1 }}>
        {words.map((sentence, i) => (
          <Box key={i}>{sentence}</Box>
        ))}
        Nothing was kept of {plural(words.length, 'it', 'them')}; your other manuscripts are as they were.
      </Box>
      <Button size="small" color="inherit" onClick={() => onClose()}>
        Close
      </Button>
    </Box>
  );
}
