import { Box, Button, ToggleButton, ToggleButtonGroup, Tooltip } from '@mui/material';
import { memo, useSyncExternalStore } from 'react';
import { Link } from 'react-router';
import type { Self } from '@tea-pencil/wire';
import { roleWords, type ManuscriptInfo } from '../api/queries';
import { useActs, useCommands } from '../commands/acts';
import { Pencil } from '../kit/Pencil';
import { isAtLeast, useWidth, type Width } from '../kit/width';
import type { Hand } from '../live/intents';
import type { Snapshot } from '../live/live-text';
import { inkMinutes } from '../live/pen-clock';
import { useLooking, useOpened } from '../opened/opened';
import type { Page } from '../opened/page';
import { MyMenu } from '../people/MyMenu';
import { PostLink } from '../kit/PostLink';
import { Here } from '../presence/Here';
import { LensMenu } from '../reviewing/LensMenu';
import { Folded } from './Folded';
import { PageLinks } from './PageLinks';
import { upTo } from '../kit/time';
import { Readings } from '../reviewing/Readings';
import { SealMark } from './Sealed';

const keptWords: Record<Snapshot['kept'], [word: string, explanation: string]> = {
  opening: ['Opening …', 'The text is on its way.'],
  kept: ['All kept', 'Everything you wrote is on the server.'],
  keeping: ['Keeping …', 'What you just wrote is on its way to the server.'],
  offline: [
    'No connection',
    'You can go on writing. Your words stay in this window and are sent when the connection is back; do not close it.',
  ],
  waiting: [
    'Not kept yet',
    'The server cannot keep anything just now. Your words stay in this window and are sent again by themselves; do not close it.',
  ],
  gone: ['Not open', 'This manuscript cannot be opened.'],
};

/** A little door beside the ink: for one edit only. */
function OneEdit() {
  const acts = useActs();
  return (
    <Tooltip title="Ink for one edit: when you pause or go elsewhere, the pencil comes back by itself (Shift+F2)">
      <Button
        color="inherit"
        aria-label="Ink for one edit"
        onClick={() => acts.do('ink once')}
        sx={{ minWidth: 0, px: 0.75, fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}
      >
        once
      </Button>
    </Tooltip>
  );
}

function HandSwitch({ hand, width }: { hand: Hand; width: Width }) {
  const { info, may, text } = useOpened();
  const turn = (howLong: 'minutes' | 'one edit') => {
    if (may.write) text.take(text.snapshot().hand === 'pencil' ? 'ink' : 'pencil', howLong);
  };
  useCommands({ hand: () => turn('minutes'), 'ink once': () => turn('one edit') });
  const inkClosed = info.seal
    ? 'This manuscript is sealed: everyone writes in pencil until the seal is lifted.'
    : info.everyoneInPencil
      ? 'In this manuscript everyone writes in pencil; a keeper has set it so.'
      : 'In this manuscript you may propose changes in pencil, not write in ink.';
  const chosen = (which: Hand) => ({
    px: 1.5,
    py: 0.3,
    fontWeight: 600,
    fontSize: 13,
    textTransform: 'none',
    color: 'text.secondary',
    borderColor: 'text.primary',
    position: 'relative',
    '&.Mui-selected': {
      color: which === 'ink' ? 'primary.contrastText' : 'text.primary',
      bgcolor: which === 'ink' ? 'primary.main' : 'background.default',
    },
    '&.Mui-selected:hover': { bgcolor: which === 'ink' ? 'primary.main' : 'background.default' },
    ...(which === 'pencil' && {
      '&.Mui-selected::after': {
        content: '""',
        position: 'absolute',
        inset: 'auto 0 0 0',
        height: 5,
        background: 'repeating-linear-gradient(115deg, var(--ink) 0 1.3px, transparent 1.3px 3.6px)',
      },
    }),
  });
  if (!may.write)
    return (
      <span className="second">
        {width === 'phone'
          ? 'Read only'
          : may.remark
            ? 'You may read this manuscript, and remark on it'
            : 'You may read this manuscript'}
      </span>
    );
  // Where there is little room, the hand one has is a button that takes the other.
  const shown = (which: Hand) => width !== 'phone' || which === hand;
  return (
    <>
      <ToggleButtonGroup
        exclusive
        value={hand}
        aria-label="How your edits go in"
        onChange={(_, next: Hand | null) => {
          if (next) text.take(next);
          else if (width === 'phone' && may.ink) turn('minutes');
        }}
      >
        {shown('pencil') && (
          <Tooltip title="Your edits are recorded as changes that someone decides. F2 takes pencil or ink.">
            <ToggleButton value="pencil" sx={chosen('pencil')}>
              Pencil
            </ToggleButton>
          </Tooltip>
        )}
        {shown('ink') && (
          <Tooltip
            title={
              may.ink
                ? `Your edits go straight into the text, unrecorded. After ${inkMinutes} minutes the pencil comes back by itself. F2 takes pencil or ink.`
                : inkClosed
            }
          >
            <span>
              <ToggleButton value="ink" disabled={!may.ink} sx={chosen('ink')}>
                Ink
              </ToggleButton>
            </span>
          </Tooltip>
        )}
      </ToggleButtonGroup>
      {width === 'wide' && may.ink && hand === 'pencil' && <OneEdit />}
    </>
  );
}

/** Whether all is kept; it says so the moment it is, without waiting for the rest of the screen. */
function KeptStatus({ brief }: { brief: boolean }) {
  const { text } = useOpened();
  const kept = useSyncExternalStore(text.subscribe, () => text.snapshot().kept);
  const [word, explanation] = keptWords[kept];
  const offline = kept === 'offline' || kept === 'waiting';
  return (
    <Tooltip title={explanation}>
      <span
        role="status"
        // Where there is little room, what is as it should be is said to those who listen only.
        className={brief && kept === 'kept' ? 'heard-only' : undefined}
        style={{
          color: offline ? 'var(--tea)' : 'var(--graphite)',
          fontWeight: offline ? 600 : 400,
          whiteSpace: 'nowrap',
        }}
      >
        {word}
      </span>
    </Tooltip>
  );
}

/** What one is here. */
function myself({ role }: ManuscriptInfo, { guest }: Self): string {
  if (!guest) return `you: ${roleWords[role]}`;
  const until = guest.until && `until ${upTo(guest.until)}`;
  return [`you: guest, ${roleWords[role]}`, until].filter(Boolean).join(' ');
}

/** Pages on which a lens would show nothing else. */
const withoutLens: ReadonlySet<Page> = new Set<Page>(['people', 'drafts', 'fair-copy']);

interface Props {
  hand: Hand;
  /** Whether the text is here, so that there is something to look at. */
  laid: boolean;
}

export const Bar = memo(function Bar({ hand, laid }: Props) {
  const { info, me } = useOpened();
  const { page } = useLooking();
  const width = useWidth();
  const wide = width === 'wide';
  const middle = isAtLeast(width, 'middle');
  return (
    <header className="bar">
      {me.guest ? (
        <Pencil />
      ) : (
        <Tooltip title="Back to the desk">
          <Link to="/" className="bar-home" aria-label={wide ? undefined : 'Desk'}>
            <Pencil />
            {wide && 'Desk'}
          </Link>
        </Tooltip>
      )}
      <div className="bar-title">
        <strong title={info.title}>{info.title}</strong>
        <span className="second">{[info.note, myself(info, me)].filter(Boolean).join(' · ')}</span>
      </div>
      {info.seal && <SealMark seal={info.seal} brief={!middle} />}
      <HandSwitch hand={hand} width={width} />
      <KeptStatus brief={width === 'phone'} />
      <Box sx={{ flex: 1 }} />
      {middle && (
        <nav aria-label="Of this manuscript" className="tabs">
          <PageLinks />
        </nav>
      )}
      {wide && page === 'text' && (
        <>
          <span className="bar-line" />
          <Readings />
        </>
      )}
      {laid && width !== 'phone' && !withoutLens.has(page) && <LensMenu />}
      {wide && <Here />}
      {middle && (
        <>
          {!me.guest && <PostLink />}
          <MyMenu me={me} hue={info.people.find(({ id }) => id === me.id)?.hue} />
        </>
      )}
      {!wide && <Folded laid={laid} />}
    </header>
  );
});
