import { keys } from '../api/keys';
import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  TextField,
  Tooltip,
  Typography,
} from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Loss } from '@tea-pencil/core';
import { request, sendFile } from '../api/client';
import type { DeskLine } from '@tea-pencil/wire';
import { roleWords, useDesk, useMe } from '../api/queries';
import { useMode } from '../theme/mode';
import { Message } from '../kit/Message';
import { Pencil } from '../kit/Pencil';
import { PostLink } from '../post/PostLink';
import { MyMenu } from '../people/MyMenu';
import { hueOf } from '../theme/hues';
import { textFont } from '../theme/theme';

const exactly = (date: string) => new Date(date).toLocaleString(undefined, { dateStyle: 'full', timeStyle: 'short' });

function Strip({ entry }: { entry: DeskLine }) {
  const { mode } = useMode();
  return (
    <svg
      width="100%"
      height="9"
      preserveAspectRatio="none"
      viewBox="0 0 300 9"
      role="img"
      aria-label={`${entry.pending} pending changes along the text`}
    >
      <rect width="300" height="9" rx="2" fill="var(--hairline)" opacity="0.55" />
      {entry.spine.map(({ at, hue }, i) => (
        <rect key={i} x={at * 297} width="2.5" height="9" fill={hueOf(hue, mode).line} />
      ))}
    </svg>
  );
}

const columns = '1.1fr 280px 120px 220px 190px';

function Row({ entry, me }: { entry: DeskLine; me: string }) {
  const { id, title, note, pending, openThreads, owed, role, touchedAt, touchedBy, touchedByName } = entry;
  return (
    <Box
      role="row"
      sx={{
        display: 'grid',
        gridTemplateColumns: columns,
        gap: '0 20px',
        alignItems: 'baseline',
        p: '13px 10px',
        borderBottom: '1px solid',
        borderColor: 'divider',
        color: 'text.primary',
        position: 'relative',
        '&:hover, &:focus-within': { bgcolor: 'background.paper' },
      }}
    >
      <Box role="cell">
        {/* The whole line leads where its title leads. */}
        <Box
          component={Link}
          to={`/m/${id}`}
          className="serif"
          sx={{
            fontSize: 17.5,
            fontWeight: 600,
            color: 'inherit',
            textDecoration: 'none',
            '&::after': { content: '""', position: 'absolute', inset: 0 },
          }}
        >
          {title}
        </Box>
        <Box className="second">{[note, roleWords[role]].filter(Boolean).join(' · ')}</Box>
      </Box>
      <Box role="cell">
        <Strip entry={entry} />
      </Box>
      <Box role="cell" sx={{ fontWeight: 600, color: pending ? 'secondary.main' : 'text.primary' }}>
        {pending ? `${pending} to decide` : 'nothing'}
      </Box>
      <Box role="cell">
        {openThreads ? `${openThreads} open ${openThreads === 1 ? 'thread' : 'threads'}` : '—'}
        {owed.map(({ person, name, answers }) => (
          <Box
            key={person}
            className="second"
            sx={{ color: person === me ? 'secondary.main' : undefined, fontWeight: person === me ? 600 : 400 }}
          >
            {person === me ? 'you owe' : `${name} owes`} {answers === 1 ? 'an answer' : `${answers} answers`}
          </Box>
        ))}
      </Box>
      <Tooltip title={exactly(touchedAt)}>
        <Box role="cell" sx={{ color: 'text.secondary' }}>
          {touchedBy === me ? 'you' : touchedByName}, {formatDistanceToNow(new Date(touchedAt), { addSuffix: true })}
        </Box>
      </Tooltip>
    </Box>
  );
}

interface Coming {
  name: string;
  part: number;
  stop: AbortController;
}

/** @param onLaid is called once the desk is there, and nothing else needs the connection */
export function Desk({ onLaid }: { onLaid(): unknown }) {
  const desk = useDesk();
  const me = useMe();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const [coming, setComing] = useState<Coming | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const [naming, setNaming] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);

  useEffect(() => {
    document.title = 'Desk · Tea Pencil';
  }, []);

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

  const create = async (title: string) => {
    try {
      const { id } = await request<{ id: string }>('POST', '/manuscripts', { title });
      void queries.invalidateQueries({ queryKey: keys.desk });
      void navigate(`/m/${id}`);
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
    }
  };

  const laid = desk.isSuccess;
  useEffect(() => {
    if (laid) onLaid();
  }, [laid, onLaid]);

  if (desk.isError)
    return <Message title="The desk cannot be shown" text={desk.error.message} again={() => void desk.refetch()} />;
  const waiting = desk.data?.reduce((sum, { pending }) => sum + pending, 0) ?? 0;

  return (
    <Box
      sx={{ minHeight: '100%', outline: over ? '3px dashed' : 'none', outlineColor: 'primary.main', outlineOffset: -8 }}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void bringIn(event.dataTransfer.files[0]);
      }}
    >
      <header className="bar">
        <Pencil />
        <strong style={{ fontSize: 15 }}>Desk</strong>
        <Box sx={{ flex: 1 }} />
        <PostLink />
        {me.data && <MyMenu me={me.data} />}
      </header>
      <Box component="main" sx={{ maxWidth: 1240, mx: 'auto', p: '28px 20px' }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mb: 3 }}>
          <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 28, fontWeight: 600 }}>
            Manuscripts
          </Typography>
          {desk.data && (
            <Typography sx={{ color: 'text.secondary', flex: 1 }}>
              {desk.data.length} on your desk, {waiting} {waiting === 1 ? 'change' : 'changes'} to decide
            </Typography>
          )}
          {!desk.data && <Box sx={{ flex: 1 }} />}
          <Button
            variant="outlined"
            color="inherit"
            sx={{ bgcolor: 'background.paper' }}
            onClick={() => chooser.current?.click()}
            disabled={!!coming}
          >
            Bring in a file
          </Button>
          <input
            ref={chooser}
            type="file"
            hidden
            aria-label="File to bring in"
            accept=".docx,.txt"
            onChange={(event) => {
              void bringIn(event.target.files?.[0]);
              event.target.value = '';
            }}
          />
          <Button variant="contained" onClick={() => setNaming(true)}>
            New manuscript
          </Button>
        </Box>
        {coming && (
          <Box
            sx={{ mb: 3, p: 2, bgcolor: 'background.paper', border: '1px solid', borderColor: 'divider' }}
            role="status"
          >
            <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
              <Box sx={{ flex: 1 }}>
                {coming.part < 1
                  ? `Sending “${coming.name}” …`
                  : `Reading “${coming.name}”: its text, changes and comments …`}
              </Box>
              <Button size="small" onClick={() => coming.stop.abort()}>
                Stop
              </Button>
            </Box>
            <LinearProgress
              variant={coming.part < 1 ? 'determinate' : 'indeterminate'}
              value={coming.part * 100}
              aria-label="Progress"
            />
          </Box>
        )}
        {refusal && (
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
            <Box sx={{ flex: 1 }}>{refusal} Nothing was kept of it; your other manuscripts are as they were.</Box>
            <Button size="small" color="inherit" onClick={() => setRefusal(null)}>
              Close
            </Button>
          </Box>
        )}
        <Box role="table" aria-label="Manuscripts" aria-busy={desk.isPending}>
          <Box
            role="row"
            sx={{
              display: 'grid',
              gridTemplateColumns: columns,
              gap: '0 20px',
              p: '4px 10px',
              borderBottom: '1px solid',
              borderColor: 'text.primary',
              fontSize: 11.5,
              fontWeight: 600,
              color: 'text.secondary',
            }}
          >
            {['Manuscript', 'Where its changes are', 'To decide', 'In talk', 'Last touched'].map((name) => (
              <span role="columnheader" key={name}>
                {name}
              </span>
            ))}
          </Box>
          {desk.data?.map((entry) => (
            <Row key={entry.id} entry={entry} me={me.data?.id ?? ''} />
          ))}
        </Box>
        {desk.isPending && <LinearProgress aria-label="The desk is being laid" sx={{ mt: 2 }} />}
        {desk.data?.length === 0 && (
          <Typography sx={{ mt: 4, fontSize: 16, fontFamily: textFont }}>
            Your desk is empty. Bring in a file, begin a new manuscript, or wait until someone shares one with you.
          </Typography>
        )}
        <Typography variant="body2" sx={{ mt: 4, color: 'text.secondary' }}>
          Drop a DOCX or text file anywhere on this page. Its tracked changes and comments come in with it.
        </Typography>
      </Box>
      <NameDialog open={naming} onClose={() => setNaming(false)} onName={(title) => void create(title)} />
    </Box>
  );
}

function NameDialog({
  open,
  onClose,
  onName,
}: {
  open: boolean;
  onClose: () => void;
  onName: (title: string) => void;
}) {
  const [title, setTitle] = useState('');
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (title.trim()) onName(title.trim());
        }}
      >
        <DialogTitle>New manuscript</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            size="small"
            label="Its title"
            sx={{ mt: 1 }}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose} color="inherit">
            Leave it
          </Button>
          <Button type="submit" variant="contained" disabled={!title.trim()}>
            Begin
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
