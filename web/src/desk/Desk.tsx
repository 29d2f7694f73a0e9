import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { useDeferredValue, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { counted, endingsTaken, filesTaken } from '@tea-pencil/core';
import type { DeskLine, FoundLine, HereNow } from '@tea-pencil/wire';
import { FileChooser } from '../kit/FileChooser';
import { useDesk, useFound, useHere, useMe } from '../api/queries';
import { Message } from '../kit/Message';
import { useTakeBack } from '../kit/use-take-back';
import { TopBar } from '../people/TopBar';
import { textFont } from '../theme/theme';
import { arranged, labelsOf } from './arranging';
import { Beginning } from './Beginning';
import { Progress, Refusals, useBringingIn } from './bringing-in';
import { Deleted } from './Deleted';
import { Collate } from './Collate';
import { DeskRow } from './DeskRow';
import { DeskTools, useArrangement } from './DeskTools';

const nobody: HereNow[string] = [];

/** The heads of the columns. */
const Head = () => (
  <Box role="row" className="desk-row desk-head">
    {['Manuscript', 'Where its changes are', 'To decide', 'In talk', 'Last touched'].map((name) => (
      <span role="columnheader" key={name}>
        {name}
      </span>
    ))}
    <span role="columnheader" className="heard-only">
      What can be done
    </span>
  </Box>
);

/** Takes files that are dropped anywhere on it. */
function DropTarget({ onDrop, children }: { onDrop(files: File[]): void; children: ReactNode }) {
  const [over, setOver] = useState(false);
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
        onDrop([...event.dataTransfer.files]);
      }}
    >
      {children}
    </Box>
  );
}

interface HeadlineProps {
  lines: readonly DeskLine[] | undefined;
  /** Whether files are just being brought in. */
  busy: boolean;
  bringIn(files: File[]): void;
  onCollate(): void;
  onBegin(): void;
}

/** What lies on the desk in all, and how something comes onto it. */
function Headline({ lines, busy, bringIn, onCollate, onBegin }: HeadlineProps) {
  const chooser = useRef<HTMLInputElement>(null);
  const out = lines?.filter(({ archived }) => !archived) ?? [];
  const waiting = out.reduce((sum, { pending }) => sum + pending, 0);
  const quiet = { variant: 'outlined', color: 'inherit', sx: { bgcolor: 'background.paper' } } as const;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: '8px 16px', mb: 2 }}>
      <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 28, fontWeight: 600 }}>
        Manuscripts
      </Typography>
      <Typography sx={{ color: 'text.secondary', flex: 1 }}>
        {lines && `${out.length} on your desk, ${counted(waiting, 'change')} to decide`}
      </Typography>
      <Button {...quiet} onClick={() => chooser.current?.click()} disabled={busy}>
        Bring in a file
      </Button>
      <Button {...quiet} onClick={onCollate}>
        Collate …
      </Button>
      <FileChooser ref={chooser} multiple label="File to bring in" accept={endingsTaken} onChoose={bringIn} />
      <Button variant="contained" onClick={onBegin}>
        New manuscript
      </Button>
    </Box>
  );
}

/** @param onLaid is called once the desk is there, and nothing else needs the connection */
export function Desk({ onLaid }: { onLaid(): unknown }) {
  const desk = useDesk();
  const me = useMe();
  const here = useHere();
  const sayDone = useTakeBack();
  const myself = me.data?.id ?? '';
  const { coming, refusals, bringIn, understood } = useBringingIn(myself);
  const [naming, setNaming] = useState(false);
  const [collating, setCollating] = useState(false);
  const [arrangement, arrange] = useArrangement();
  const [typed, setTyped] = useState('');
  const words = useDeferredValue(typed.trim());
  const found = useFound(words);
  useEffect(() => {
    document.title = 'Desk · Tea Pencil';
  }, []);
  const laid = desk.isSuccess;
  useEffect(() => {
    if (laid) onLaid();
  }, [laid, onLaid]);

  const lines = useMemo(() => desk.data ?? [], [desk.data]);
  const pieces = useMemo(
    () => new Map<string, FoundLine['piece']>((found.data ?? []).map(({ id, piece }) => [id, piece])),
    [found.data],
  );
  const looksFor = words ? (found.data?.map(({ id }) => id) ?? null) : null;
  const shown = arranged(lines, arrangement, myself, looksFor);
  const labels = useMemo(() => labelsOf(lines), [lines]);
  const names = useMemo(() => labels.map(([label]) => label), [labels]);
  const away = lines.filter(({ archived }) => archived).length;

  if (desk.isError && !desk.data)
    return <Message title="The desk cannot be shown" text={desk.error.message} again={() => void desk.refetch()} />;
  return (
    <DropTarget onDrop={(files) => void bringIn(files)}>
      <TopBar title="Desk" home={false} />
      <Box component="main" sx={{ maxWidth: 1240, mx: 'auto', p: '28px 20px' }}>
        <Headline
          lines={desk.data}
          busy={!!coming}
          bringIn={(files) => void bringIn(files)}
          onCollate={() => setCollating(true)}
          onBegin={() => setNaming(true)}
        />
        {coming && <Progress {...coming} />}
        {refusals.length > 0 && <Refusals words={refusals} onClose={understood} />}
        {lines.length > 0 && (
          <DeskTools
            typed={typed}
            onType={setTyped}
            arrangement={words ? null : arrangement}
            arrange={arrange}
            labels={labels}
            away={away}
          />
        )}
        <Box role="table" aria-label={arrangement.archived ? 'Manuscripts put away' : 'Manuscripts on your desk'}>
          {shown.length > 0 && <Head />}
          {shown.map((entry) => (
            <DeskRow
              key={entry.id}
              entry={entry}
              me={myself}
              here={here.data?.[entry.id] ?? nobody}
              piece={words ? (pieces.get(entry.id) ?? null) : null}
              labels={names}
              sayDone={sayDone}
            />
          ))}
        </Box>
        {(desk.isPending || (words && found.isPending)) && (
          <LinearProgress aria-label="The desk is being laid" sx={{ mt: 2 }} />
        )}
        {words && found.data && !shown.length && (
          <Typography sx={{ mt: 3 }}>No manuscript of yours has these words in its title or its text.</Typography>
        )}
        {words && found.isError && <Typography sx={{ mt: 3 }}>{found.error.message}</Typography>}
        {!words && desk.data && !shown.length && lines.length > 0 && (
          <Typography sx={{ mt: 3 }}>
            {arrangement.archived ? 'Nothing is put away.' : 'Everything is put away, or bears another label.'}
          </Typography>
        )}
        {desk.data?.length === 0 && (
          <Typography sx={{ mt: 4, fontSize: 16, fontFamily: textFont }}>
            Your desk is empty. Bring in a file, begin a new manuscript, or wait until someone shares one with you.
          </Typography>
        )}
        <Typography variant="body2" sx={{ mt: 4, color: 'text.secondary' }}>
          Drop files anywhere on this page: {filesTaken()}. Their changes and comments come in with them.
        </Typography>
        {!words && <Deleted />}
      </Box>
      {collating && <Collate lines={lines} onClose={() => setCollating(false)} />}
      {naming && <Beginning onClose={() => setNaming(false)} />}
    </DropTarget>
  );
}
