import { Box, LinearProgress } from '@mui/material';
import { useParams } from 'react-router';
import type { Self } from '@tea-pencil/wire';
import { useManuscript, useMe, useThreads, type ManuscriptInfo } from '../api/queries';
import { ActsContext } from '../commands/acts';
import { useKeyboard } from '../commands/use-keyboard';
import { FocusRuleContext } from '../kit/focus';
import { Message } from '../kit/Message';
import { DrawnProvider, LookingProvider, OpenedProvider } from '../opened/opened';
import { WhoIsWho } from '../people/WhoIsWho';
import { ReadingAlong } from '../presence/ReadingAlong';
import { hueSheet } from '../theme/hues';
import { useMode } from '../theme/mode';
import { nonce } from '../theme/nonce';
import { Bar } from './Bar';
import { Beginning } from './Beginning';
import { SealTold } from './Sealed';
import { Connection, JustIn, Mended, Tray } from './Notices';
import { Pages } from './Pages';
import { useLookingAt, useOpening } from './use-opening';

/** The screen of one manuscript. */
export default function Manuscript() {
  const { id = '' } = useParams();
  const me = useMe();
  const info = useManuscript(id);
  useThreads(id); // asked for early; the text will want them
  if (info.isPending || !me.data) return <LinearProgress aria-label="The manuscript is being fetched" />;
  // What is here stays, and with it words that are not kept yet, though it cannot be asked for again.
  if (info.isError && !info.data)
    return (
      <Message
        title="This manuscript cannot be opened"
        text={me.data.guest?.ended ?? info.error.message}
        again={() => void info.refetch()}
        home={!me.data.guest}
      />
    );
  return <Open key={id} info={info.data} me={me.data} />;
}

function Open({ info, me }: { info: ManuscriptInfo; me: Self }) {
  const { mode } = useMode();
  const looking = useLookingAt(info.id);
  const { opened, acts, rule, snapshot, drawings, notTaken, copied } = useOpening(info, me, looking.look);
  useKeyboard(acts);
  if (snapshot.kept === 'gone')
    return (
      <>
        <Tray items={notTaken} onClose={copied} />
        <Message title="This manuscript cannot be opened" text={snapshot.problem ?? ''} home={!me.guest} />
      </>
    );
  return (
    <OpenedProvider value={opened}>
      <LookingProvider value={looking}>
        <ActsContext value={acts}>
          <FocusRuleContext value={rule}>
            <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
              <style nonce={nonce}>{hueSheet(info.people, mode, looking.ownHues)}</style>
              <Bar hand={snapshot.hand} laid={!!snapshot.state} />
              <Connection kept={snapshot.kept} problem={snapshot.problem} />
              <JustIn losses={info.losses} carried={info.carried} cameAs={info.cameAs} />
              <Beginning hand={snapshot.hand} laid={!!snapshot.state} />
              <SealTold />
              <WhoIsWho info={info} />
              <Mended id={info.id} mends={info.mends} />
              <Tray items={notTaken} onClose={copied} />
              {snapshot.state ? (
                <DrawnProvider value={snapshot.state}>
                  <Pages drawings={drawings} hand={snapshot.hand} />
                </DrawnProvider>
              ) : (
                <Box component="main" sx={{ flex: 1 }}>
                  <LinearProgress aria-label="The text is on its way" />
                </Box>
              )}
              <ReadingAlong />
            </Box>
          </FocusRuleContext>
        </ActsContext>
      </LookingProvider>
    </OpenedProvider>
  );
}
