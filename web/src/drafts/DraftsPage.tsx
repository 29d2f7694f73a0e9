import { Button, IconButton, LinearProgress, Tooltip } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { Drafts, ReadAs, SideBySide } from '@tea-pencil/wire';
import { momentAt, useBeside, useDrafts, useMoment, useTimeLine, type BesideReading } from '../api/drafts';
import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { Message } from '../kit/Message';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { Beside } from './Beside';
import { BringBack } from './BringBack';
import { DraftList } from './DraftList';
import { DraftsFoot } from './DraftsFoot';
import { One } from './One';
import { TakeIn } from './TakeIn';
import { TimeLine } from './TimeLine';
import { useChoice } from './use-choice';
import { deedOf, nameOfState } from './words';

/** Earlier states of the text: who wrote when, any two of them beside each other, and the way back to one. */
export default function DraftsPage() {
  const { info } = useOpened();
  const drafts = useDrafts(info.id);
  if (drafts.isPending) return <LinearProgress aria-label="The drafts are being fetched" />;
  if (drafts.isError)
    return (
      <Message title="The drafts cannot be shown" text={drafts.error.message} again={() => void drafts.refetch()} />
    );
  return <Page newest={drafts.data} />;
}

/** A step along the log: to the piece of work before or after. */
function Go({ to, than, closed, onGo }: { to: 'earlier' | 'later'; than: string; closed: boolean; onGo(): void }) {
  return (
    <Tooltip title={`What was there a piece of work ${to}`}>
      <span>
        <IconButton
          size="small"
          aria-label={`${to === 'earlier' ? 'Earlier' : 'Later'} than ${than}`}
          disabled={closed}
          onClick={onGo}
        >
          {to === 'earlier' ? '‹' : '›'}
        </IconButton>
      </span>
    </Tooltip>
  );
}

/** One of the states that are looked at: what it is called, what happened there, and a step earlier or later. */
function Head({
  all,
  version,
  words,
  onGo,
}: {
  all: Drafts;
  version: number;
  words: number | undefined;
  onGo(version: number): void;
}) {
  const { info, nameOf } = useOpened();
  const moment = useMoment(info.id, version);
  const name = nameOfState(all, version, moment.data?.at);
  const deed =
    version === 0 ? 'The first state.' : moment.data && `${said(moment.data.at)}: ${deedOf(moment.data, nameOf)}`;
  const go = async (direction: 'earlier' | 'later') => onGo((await momentAt(info.id, version, direction)).version);
  return (
    <div className="state-head">
      <strong>{name}</strong>
      {words !== undefined && <span className="second">{counted(words, 'word')}</span>}
      <span className="second state-deed" title={deed}>
        {deed}
      </span>
      <Go to="earlier" than={name} closed={version === 0} onGo={() => void go('earlier')} />
      <Go to="later" than={name} closed={version >= all.version} onGo={() => void go('later')} />
    </div>
  );
}

const oneReadings: [ReadAs, string][] = [
  ['marked', 'Marked'],
  ['fair', 'Fair'],
  ['before', 'Before'],
];

function Page({ newest }: { newest: Drafts }) {
  const { info, may, say } = useOpened();
  /** The version that is called now, while others write on; null where what one has done oneself is followed. */
  const [held, setHeld] = useState<number | null>(newest.version);
  const all = useMemo(() => ({ ...newest, version: held ?? newest.version }), [newest, held]);
  const choice = useChoice(all);
  const { before, after, choose, looking, setLooking } = choice;
  const line = useTimeLine(info.id);
  const [reading, setReading] = useState<BesideReading>('fair');
  const [readAs, setReadAs] = useState<ReadAs>('marked');
  const [dialog, setDialog] = useState<'back' | 'file' | null>(null);
  const attempt = useTrying(keys.drafts(info.id));
  const laid = useBeside(info.id, before, after, reading);
  const scroller = useRef<HTMLDivElement>(null);
  const [lit, setLit] = useState<string | null>(null);
  const keep = async () => {
    if (await attempt('POST', `/manuscripts/${info.id}/drafts`, {})) say('The text as it stands is kept as a draft.');
  };
  const shown = looking === 'one' ? after : before;
  const heads = (words: SideBySide | undefined): [React.ReactNode, React.ReactNode] => [
    <Head key="before" all={all} version={before} words={words?.before.words} onGo={(next) => choose(next, after)} />,
    <Head key="after" all={all} version={after} words={words?.after.words} onGo={(next) => choose(before, next)} />,
  ];
  return (
    <>
      <main className="drafts">
        <h1 className="heard-only">Drafts of “{info.title}”</h1>
        <div className="drafts-tools">
          <div role="group" aria-label="What is shown" className="tabs">
            <button
              type="button"
              className="tab"
              aria-pressed={looking === 'beside'}
              onClick={() => setLooking('beside')}
            >
              Side by side
            </button>
            <button type="button" className="tab" aria-pressed={looking === 'one'} onClick={() => setLooking('one')}>
              One draft
            </button>
          </div>
          <div role="group" aria-label="Reading" className="tabs">
            {looking === 'one'
              ? oneReadings.map(([as, name]) => (
                  <button
                    key={as}
                    type="button"
                    className="tab"
                    aria-pressed={readAs === as}
                    onClick={() => setReadAs(as)}
                  >
                    {name}
                  </button>
                ))
              : (['fair', 'before'] as const).map((as) => (
                  <button
                    key={as}
                    type="button"
                    className="tab"
                    aria-pressed={reading === as}
                    onClick={() => setReading(as)}
                  >
                    {as === 'fair' ? 'Fair' : 'Before'}
                  </button>
                ))}
          </div>
          <span className="drafts-space" />
          {newest.version > all.version && (
            <Button color="inherit" onClick={() => setHeld(newest.version)}>
              The text has gone on: show it
            </Button>
          )}
          {may.settle && (
            <Button color="inherit" variant="outlined" onClick={() => setDialog('file')}>
              A file came back …
            </Button>
          )}
          <DraftList all={all} choice={choice} />
          {may.write && (
            <Button color="inherit" variant="outlined" onClick={() => void keep()}>
              Keep a draft now
            </Button>
          )}
        </div>
        {line.data ? (
          <TimeLine drafts={all} line={line.data} choice={choice} />
        ) : (
          <LinearProgress aria-label="The time line is being fetched" />
        )}
        {looking === 'one' ? (
          <One version={after} reading={readAs} head={heads(undefined)[1]} />
        ) : laid.isError ? (
          <Message
            title="These drafts cannot be laid beside each other"
            text={laid.error.message}
            again={() => void laid.refetch()}
          />
        ) : laid.data ? (
          <Beside
            data={laid.data}
            waiting={laid.isPlaceholderData}
            lit={lit}
            scroller={scroller}
            heads={heads(laid.data)}
          />
        ) : (
          <LinearProgress aria-label="The drafts are being laid beside each other" />
        )}
      </main>
      <DraftsFoot
        {...{ all, choice, scroller, lit, setLit }}
        data={looking === 'beside' ? laid.data : undefined}
        shown={shown}
        onBack={() => setDialog('back')}
        onLaidDown={() => setHeld(null)}
      />
      {dialog === 'back' && (
        <BringBack version={shown} name={nameOfState(all, shown, undefined)} onClose={() => setDialog(null)} />
      )}
      {dialog === 'file' && <TakeIn all={all} onClose={() => setDialog(null)} />}
    </>
  );
}
