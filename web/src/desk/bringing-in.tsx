import { counted, plural } from '@tea-pencil/core';
import { Box, Button, LinearProgress } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import type { BroughtIn, Waiting } from '@tea-pencil/wire';
import { request, sendFile } from '../api/client';
import { keys } from '../api/keys';

/** A file on its way to become a manuscript. */
interface Coming {
  name: string;
  part: number;
  stop: AbortController;
  /** Which of how many it is. */
  nth: number;
  of: number;
}

/** Brings files in, one after the other, and goes to the manuscript where it was one. */
export function useBringingIn() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [coming, setComing] = useState<Coming | null>(null);
  const [refusals, setRefusals] = useState<string[]>([]);
  const bringIn = useCallback(
    async (files: readonly File[]) => {
      if (!files.length) return;
      setRefusals([]);
      const stop = new AbortController();
      for (const [i, file] of files.entries()) {
        if (stop.signal.aborted) break;
        const at = { name: file.name, stop, nth: i + 1, of: files.length };
        setComing({ ...at, part: 0 });
        try {
          const { id } = await sendFile<BroughtIn>(
            '/manuscripts/import',
            file,
            (part) => setComing({ ...at, part }),
            stop.signal,
          );
          void queries.invalidateQueries({ queryKey: keys.desk });
          if (files.length === 1) void navigate(`/m/${id}`, { state: { justIn: true } });
        } catch (problem) {
          setRefusals((before) => [...before, (problem as Error).message]);
        }
      }
      setComing(null);
    },
    [navigate, queries],
  );

  return { coming, refusals, bringIn, understood: () => setRefusals([]) };
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
