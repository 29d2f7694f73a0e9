import { counted, endingsTaken, filesTaken } from '@tea-pencil/core';
import { keys } from '../api/keys';
import { Box, Button, LinearProgress, Tooltip, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { useSnackbar } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { request } from '../api/client';
import type { DeskLine } from '@tea-pencil/wire';
import { roleWords, useDesk, useMe } from '../api/queries';
import { useMode } from '../theme/mode';
import { Message } from '../kit/Message';
import { Progress, Refusals, useBringingIn } from './bringing-in';
import { NameDialog } from './NameDialog';
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
      aria-label={`${counted(entry.pending, 'change')} to decide, along the text`}
    >
      <rect width="300" height="9" rx="2" fill="var(--hairline)" opacity="0.55" />
      {entry.spine.strokes.map(([part, hue]) => (
        <rect key={part} x={(part / entry.spine.parts) * 297} width="2.5" height="9" fill={hueOf(hue, mode).line} />
      ))}
    </svg>
  );
}

function Row({ entry, me }: { entry: DeskLine; me: string }) {
  const { id, title, note, pending, openThreads, owed, role, touchedAt, touchedBy, touchedByName } = entry;
  return (
    <Box
      role="row"
      className="desk-row"
      sx={{
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
        {openThreads ? counted(openThreads, 'open thread') : '—'}
        {owed.map(({ person, name, answers }) => (
          <Box
            key={person}
            className="second"
            sx={{ color: person === me ? 'secondary.main' : undefined, fontWeight: person === me ? 600 : 400 }}
          >
            {person === me ? 'you owe' : `${name} owes`} {counted(answers, 'answer')}
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

/** The heads of the columns. */
function Head() {
  return (
    <Box
      role="row"
      className="desk-row desk-head"
      sx={{
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
  );
}

/** @param onLaid is called once the desk is there, and nothing else needs the connection */
export function Desk({ onLaid }: { onLaid(): unknown }) {
  const desk = useDesk();
  const me = useMe();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const { coming, refusals, bringIn, understood } = useBringingIn();
  const [over, setOver] = useState(false);
  const [naming, setNaming] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);

  useEffect(() => {
    document.title = 'Desk · Tea Pencil';
  }, []);

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
        void bringIn([...event.dataTransfer.files]);
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
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: '8px 16px', mb: 3 }}>
          <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 28, fontWeight: 600 }}>
            Manuscripts
          </Typography>
          {desk.data && (
            <Typography sx={{ color: 'text.secondary', flex: 1 }}>
              {desk.data.length} on your desk, {counted(waiting, 'change')} to decide
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
            accept={endingsTaken}
            multiple
            onChange={(event) => {
              void bringIn([...(event.target.files ?? [])]);
              event.target.value = '';
            }}
          />
          <Button variant="contained" onClick={() => setNaming(true)}>
            New manuscript
          </Button>
        </Box>
        {coming && <Progress {...coming} />}
        {refusals.length > 0 && <Refusals words={refusals} onClose={understood} />}
        <Box role="table" aria-label="Manuscripts" aria-busy={desk.isPending}>
          <Head />
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
          Drop files anywhere on this page: {filesTaken()}. Their changes and comments come in with them.
        </Typography>
      </Box>
      <NameDialog open={naming} onClose={() => setNaming(false)} onName={(title) => void create(title)} />
    </Box>
  );
}
