import { counted, plural } from '@tea-pencil/core';
import { Box, Button, LinearProgress } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Loss } from '@tea-pencil/core';
import type { Waiting } from '@tea-pencil/wire';
import { request, sendFile } from '../api/client';
import { keys } from '../api/keys';

/** A file on its way to become a manuscript. */
interface Coming {
  name: string;
  part: number;
  stop: AbortController;
}

/** Brings a file in, and goes to the manuscript it has become. */
export function useBringingIn() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [coming, setComing] = useState<Coming | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const bringIn = useCallback(
    async (file: File | undefined) => {
      if (!file) return;
      setRefusal(null);
      const stop = new AbortController();
      setComing({ name: file.name, part: 0, stop });
      try {
        const { id } = await sendFile<{ id: string; losses: Loss[] }>(
          '/manuscripts/import',
          file,
          (part) => setComing({ name: file.name, part, stop }),
          stop.signal,
        );
        void queries.invalidateQueries({ queryKey: keys.desk });
        void navigate(`/m/${id}`, { state: { justIn: true } });
      } catch (problem) {
        setRefusal((problem as Error).message);
      } finally {
        setComing(null);
      }
    },
    [navigate, queries],
  );

  return { coming, refusal, bringIn, understood: () => setRefusal(null) };
}

/** How far it is, and a way to stop it. */
export function Progress({ name, part, stop }: Coming) {
  const waiting = useQuery({
    queryKey: keys.waiting,
    queryFn: () => request<Waiting>('GET', '/manuscripts/import/waiting'),
    enabled: part === 1,
    refetchInterval: 800,
    gcTime: 0,
  });
  const ahead = waiting.data?.ahead ?? 0;
  const read = part === 1 ? (waiting.data?.part ?? null) : null;
  return (
    <Box sx={{ mb: 3, p: 2, bgcolor: 'background.paper', border: '1px solid', borderColor: 'divider' }} role="status">
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Box sx={{ flex: 1 }}>
          {part < 1
            ? `Sending “${name}” …`
            : ahead
              ? `“${name}” waits: ${counted(ahead, 'file')} ${plural(ahead, 'is', 'are')} read before it …`
              : `Reading “${name}”: its text, changes and comments${read === null ? '' : `, ${Math.floor(read * 100)} %`} …`}
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

/** Why a file did not come in. */
export function Refusal({ words, onClose }: { words: string; onClose(): void }) {
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
      <Box sx={{ flex: 1 }}>{words} Nothing was kept of it; your other manuscripts are as they were.</Box>
      <Button size="small" color="inherit" onClick={() => onClose()}>
        Close
      </Button>
    </Box>
  );
}
