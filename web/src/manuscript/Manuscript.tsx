import { Alert, Box, Button, LinearProgress } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useMemo, useState } from 'react';
import type { EditorView } from 'prosemirror-view';
import { useLocation, useNavigate, useParams } from 'react-router';
import type { Loss } from '@tea-pencil/core';
import type { ChangedThing, Self } from '@tea-pencil/wire';
import { mayAtLeast, meQuery, useManuscript, useMe, useThreads, type ManuscriptInfo } from '../api/queries';
import { useMode } from '../theme/mode';
import { Message } from '../kit/Message';
import { useTakeBack } from '../kit/use-take-back';
import { useLiveText } from '../sheet/editor/use-live-text';
import type { Hand } from '../live/intents';
import type { NotTaken } from '../live/hearer';
import { ReadingAlong } from '../presence/ReadingAlong';
import { bring, useReadAlong } from '../presence/use-read-along';
import { Settings } from '../people/PeopleDialog';
import { WhoIsWho } from '../people/WhoIsWho';
import { hueSheet } from '../theme/hues';
import { nonce } from '../theme/nonce';
import { Bar } from './Bar';
import { pageOf } from '../opened/page';
import { inReading } from '../reviewing/use-reviewing';
import { useLens } from '../reviewing/use-lens';
import { useOwnHues } from '../reviewing/use-own-hues';
import type { KeptLens, LeftAt, Look } from '@tea-pencil/wire';
import { plainLook, useView } from '../reviewing/use-view';
import { Working } from './Pages';

const noLenses: KeptLens[] = [];

/** The screen of one manuscript. */
export default function Manuscript() {
  const { id = '' } = useParams();
  const me = useMe();
  const info = useManuscript(id);
  useThreads(id); // asked for early; the text will want them
  if (info.isPending || !me.data) return <LinearProgress aria-label="The manuscript is being fetched" />;
  if (info.isError)
    return (
      <Message
        title="This manuscript cannot be opened"
        text={info.error.message}
        again={() => void info.refetch()}
        home
      />
    );
  return <Opened key={id} info={info.data} me={me.data} />;
}

function Opened({ info, me }: { info: ManuscriptInfo; me: Self }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { mode } = useMode();
  const { enqueueSnackbar } = useSnackbar();
  const sayDone = useTakeBack();
  const [notTaken, setNotTaken] = useState<NotTaken[]>([]);
  const [peopleOpen, setPeopleOpen] = useState(false);

  const say = useCallback((sentence: string) => void enqueueSnackbar(sentence), [enqueueSnackbar]);
  const hearer = useMemo(
    () => ({
      say,
      notTaken: (what: NotTaken) => setNotTaken((all) => [...all, what]),
      changed: (what: ChangedThing) =>
        void queries.invalidateQueries({
          queryKey: what === 'post' ? ['post'] : [what === 'people' ? 'manuscript' : what, info.id],
        }),
      signedOut: () => {
        queries.setQueryData(meQuery.queryKey, null);
        void navigate(`/sign-in?to=/m/${info.id}`);
      },
    }),
    [say, queries, info.id, navigate],
  );
  const mayWrite = mayAtLeast(info.role, 'proposer');
  const mayInk = mayAtLeast(info.role, 'decider') && !info.everyoneInPencil;
  const { text, snapshot, drawing } = useLiveText(info.id, me.id, mayInk, hearer);
  const { page } = useParams();
  const [lens, setLens] = useLens();
  const { view: remembered, set: remember } = useView(info.id);
  // What was kept before something was there to choose has it as usual.
  const look = useMemo(() => ({ ...plainLook, ...remembered.look }), [remembered.look]);
  const setLook = useCallback((next: Look) => remember({ look: next }), [remember]);
  const setKept = useCallback((lenses: KeptLens[]) => remember({ lenses }), [remember]);
  const [lensOpen, setLensOpen] = useState(false);
  const [ownHues, setOwnHues] = useOwnHues(info.id);
  const [view, setView] = useState<EditorView | null>(null);
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const readAlong = useReadAlong(text, view, scroller, look.reading, say);
  const nameOf = useCallback(
    (person: string) => info.people.find(({ id }) => id === person)?.name ?? 'Someone',
    [info.people],
  );
  const goTo = useCallback(
    (pos: number) => {
      const { state } = text.snapshot();
      if (view && scroller && state) bring(view, scroller, inReading(state.doc, pos, look.reading));
    },
    [view, scroller, text, look.reading],
  );

  const onDecided = useCallback(
    (sentence: string, decision: string) => sayDone(sentence, () => void text.takeBack(decision)),
    [sayDone, text],
  );

  useEffect(() => {
    document.title = `${info.title} · Tea Pencil`;
  }, [info.title]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'F2' || !mayWrite) return;
      event.preventDefault();
      text.take(text.snapshot().hand === 'pencil' ? 'ink' : 'pencil', event.shiftKey ? 'one edit' : 'minutes');
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [text, mayWrite]);

  // Someone whose words are not kept yet is asked before the window goes.
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (text.hasUnkept() && text.snapshot().kept !== 'gone') event.preventDefault();
    };
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, [text]);

  const take = useCallback((hand: Hand, howLong?: 'minutes' | 'one edit') => text.take(hand, howLong), [text]);
  const keepPlace = useCallback((readThrough: LeftAt) => remember({ readThrough }), [remember]);
  const showPeople = useCallback(() => setPeopleOpen(true), []);

  if (snapshot.kept === 'gone')
    return <Message title="This manuscript cannot be opened" text={snapshot.problem ?? ''} home />;

  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <style nonce={nonce}>{hueSheet(info.people, mode, ownHues)}</style>
      <Bar
        info={info}
        me={me}
        hand={snapshot.hand}
        text={text}
        onReadAlong={readAlong.begin}
        onGoTo={goTo}
        mayWrite={mayWrite}
        mayInk={mayInk}
        onHand={take}
        page={pageOf(page)}
        look={look}
        onLook={setLook}
        lens={lens}
        onLens={setLens}
        kept={remembered.lenses ?? noLenses}
        onKept={setKept}
        lensOpen={lensOpen}
        onLensOpen={setLensOpen}
      />
      {snapshot.kept === 'offline' && (
        <Alert severity="warning" icon={false} square sx={{ py: 0, justifyContent: 'center' }}>
          The connection to the server is lost. You can go on writing; your words stay in this window and are sent when
          it is back.
        </Alert>
      )}
      {snapshot.kept === 'waiting' && (
        <Alert severity="warning" icon={false} square sx={{ py: 0, justifyContent: 'center' }}>
          The server cannot keep anything just now. You can go on writing; your words stay in this window and are sent
          again by themselves.
        </Alert>
      )}
      <JustIn losses={info.losses} />
      <WhoIsWho info={info} />
      <Mended id={info.id} mends={info.mends} />
      <Tray items={notTaken} onClose={() => setNotTaken([])} />
      {snapshot.state ? (
        <Working
          drawing={drawing}
          page={pageOf(page)}
          lens={lens}
          onLens={setLens}
          onLensOpen={setLensOpen}
          look={look}
          onLook={setLook}
          leftAt={remembered.readThrough}
          onLeft={keepPlace}
          ownHues={ownHues}
          onPeople={showPeople}
          info={info}
          me={me}
          text={text}
          snapshot={snapshot}
          mayWrite={mayWrite}
          mayInk={mayInk}
          view={view}
          scroller={scroller}
          onView={setView}
          onScroller={setScroller}
          nameOf={nameOf}
          onGoTo={goTo}
          say={say}
          onDecided={onDecided}
        />
      ) : (
        <Box component="main" sx={{ flex: 1 }}>
          <LinearProgress aria-label="The text is on its way" />
        </Box>
      )}
      {readAlong.client && <ReadingAlong text={text} client={readAlong.client} nameOf={nameOf} />}
      <Settings
        info={info}
        me={me.id}
        open={peopleOpen}
        onClose={() => setPeopleOpen(false)}
        ownHues={ownHues}
        onOwnHues={setOwnHues}
      />
    </Box>
  );
}

/** After a file has come in: what it held that a manuscript cannot. */
function JustIn({ losses }: { losses: Loss[] }) {
  const location = useLocation();
  const navigate = useNavigate();
  if (!(location.state as { justIn?: boolean } | null)?.justIn) return null;
  const close = () => void navigate(location.pathname, { replace: true, state: null });
  return (
    <Alert
      severity="info"
      icon={false}
      square
      onClose={close}
      sx={{
        py: 0.25,
        bgcolor: 'background.paper',
        color: 'text.primary',
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      {losses.length ? (
        <>
          The file came in with its text, changes and comments. Not held here: {counted(losses)}. The file itself is as
          it was.
        </>
      ) : (
        'The file came in whole: its text, changes and comments are all here.'
      )}
    </Alert>
  );
}

const counted = (losses: readonly Loss[]) =>
  losses
    .map(({ what, where, howMany }) => `${what} (${where}), ${howMany === 1 ? 'once' : `${howMany} times`}`)
    .join('; ');

/** A text that had come to harm says so until one has read it. */
function Mended({ id, mends }: { id: string; mends: Loss[] }) {
  const key = `mended ${id}`;
  const [read, setRead] = useState(() => Number(localStorage.getItem(key) ?? 0));
  if (mends.length <= read) return null;
  const close = () => {
    localStorage.setItem(key, String(mends.length));
    setRead(mends.length);
  };
  return (
    <Alert severity="warning" icon={false} square onClose={close} sx={{ py: 0.25 }}>
      This text had come to harm where it is kept, and was mended as well as could be: {counted(mends)}. Whatever was
      written before is still in its log.
    </Alert>
  );
}

/** What the server did not take in, to be copied. */
function Tray({ items, onClose }: { items: NotTaken[]; onClose(): void }) {
  if (!items.length) return null;
  return (
    <Alert
      severity="warning"
      icon={false}
      square
      action={
        <Button color="inherit" size="small" onClick={onClose}>
          Close
        </Button>
      }
    >
      <strong>Not taken in.</strong> The text is again as the server has it.
      {items.map(({ reason, words }, i) => (
        <Box key={i} sx={{ mt: 0.5 }}>
          {reason} {words && 'Your words, to copy:'}{' '}
          {words && (
            <Box component="span" className="serif" sx={{ userSelect: 'all' }}>
              {words}
            </Box>
          )}
        </Box>
      ))}
    </Alert>
  );
}
