import { Box, Button, ToggleButton, ToggleButtonGroup, Tooltip } from '@mui/material';
import { memo, useSyncExternalStore } from 'react';
import { Link, useLocation } from 'react-router';
import type { Lens } from '@tea-pencil/core';
import type { Self } from '@tea-pencil/wire';
import { roleWords, type ManuscriptInfo } from '../api/queries';
import { MyMenu } from '../people/MyMenu';
import { Pencil } from '../kit/Pencil';
import type { LiveText, Snapshot } from '../live/live-text';
import { inkMinutes } from '../live/pen-clock';
import type { Hand } from '../live/intents';
import { Here } from '../presence/Here';
import { PostLink } from '../post/PostLink';
import { LensMenu } from '../reviewing/LensMenu';
import { Readings } from '../reviewing/Readings';
import type { KeptLens, Look } from '@tea-pencil/wire';
import type { Page } from '../opened/page';

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

type OnHand = (hand: Hand, howLong?: 'minutes' | 'one edit') => void;

/** A little door beside the ink: for one edit only. */
function OneEdit({ onHand }: { onHand: OnHand }) {
  return (
    <Tooltip title="Ink for one edit: when you pause or go elsewhere, the pencil comes back by itself (Shift+F2)">
      <Button
        color="inherit"
        aria-label="Ink for one edit"
        onClick={() => onHand('ink', 'one edit')}
        sx={{ minWidth: 0, px: 0.75, fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}
      >
        one edit
      </Button>
    </Tooltip>
  );
}

function HandSwitch({
  hand,
  mayWrite,
  mayInk,
  inkClosed,
  onHand,
}: {
  hand: Hand;
  mayWrite: boolean;
  mayInk: boolean;
  /** Why there is no ink. */
  inkClosed: string;
  onHand: OnHand;
}) {
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
  if (!mayWrite) return <span className="second">You may read this manuscript</span>;
  return (
    <>
      <ToggleButtonGroup
        exclusive
        value={hand}
        aria-label="How your edits go in"
        onChange={(_, next: Hand | null) => next && onHand(next)}
      >
        <Tooltip title="Your edits are recorded as changes that someone decides. F2 takes pencil or ink.">
          <ToggleButton value="pencil" sx={chosen('pencil')}>
            Pencil
          </ToggleButton>
        </Tooltip>
        <Tooltip
          title={
            mayInk
              ? `Your edits go straight into the text, unrecorded. After ${inkMinutes} minutes the pencil comes back by itself. F2 takes pencil or ink.`
              : inkClosed
          }
        >
          <span>
            <ToggleButton value="ink" disabled={!mayInk} sx={chosen('ink')}>
              Ink
            </ToggleButton>
          </span>
        </Tooltip>
      </ToggleButtonGroup>
      {mayInk && hand === 'pencil' && <OneEdit onHand={onHand} />}
    </>
  );
}

interface Props {
  info: ManuscriptInfo;
  me: Self;
  text: LiveText;
  hand: Hand;
  onReadAlong(client: string): void;
  onGoTo(pos: number): void;
  mayWrite: boolean;
  mayInk: boolean;
  onHand: OnHand;
  page: Page;
  look: Look;
  onLook(look: Look): void;
  lens: Lens;
  onLens(lens: Lens): void;
  kept: readonly KeptLens[];
  onKept(lenses: KeptLens[]): void;
  lensOpen: boolean;
  onLensOpen(open: boolean): void;
}

/** Whether all is kept; it says so the moment it is, without waiting for the rest of the screen. */
function KeptStatus({ text }: { text: LiveText }) {
  const kept = useSyncExternalStore(text.subscribe, () => text.snapshot().kept);
  const [word, explanation] = keptWords[kept];
  const offline = kept === 'offline' || kept === 'waiting';
  return (
    <Tooltip title={explanation}>
      <span
        role="status"
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

/** A way to another page of the manuscript, with the lens as it is. */
function PageLink({
  id,
  page,
  now,
  title,
  children,
}: {
  id: string;
  page: Page;
  now: Page;
  title: string;
  children: string;
}) {
  const { search } = useLocation();
  return (
    <Tooltip title={title}>
      <Link
        className="tab"
        aria-current={page === now ? 'page' : undefined}
        to={{ pathname: `/m/${id}${page === 'text' ? '' : `/${page}`}`, search }}
      >
        {children}
      </Link>
    </Tooltip>
  );
}

export const Bar = memo(function Bar(props: Props) {
  const { info, me, text, hand, onReadAlong, onGoTo, mayWrite, mayInk, onHand } = props;
  const { page, look, onLook, lens, onLens, kept, onKept, lensOpen, onLensOpen } = props;
  return (
    <header className="bar">
      <Tooltip title="Back to the desk">
        <Link
          to="/"
          style={{ display: 'flex', alignItems: 'center', gap: 12, color: 'var(--graphite)', textDecoration: 'none' }}
        >
          <Pencil />
          Desk
        </Link>
      </Tooltip>
      <div className="bar-title">
        <strong>{info.title}</strong>
        <span className="second">{[info.note, `you: ${roleWords[info.role]}`].filter(Boolean).join(' · ')}</span>
      </div>
      <HandSwitch
        hand={hand}
        mayWrite={mayWrite}
        mayInk={mayInk}
        inkClosed={
          info.everyoneInPencil
            ? 'In this manuscript everyone writes in pencil; a keeper has set it so.'
            : 'In this manuscript you may propose changes in pencil, not write in ink.'
        }
        onHand={onHand}
      />
      <KeptStatus text={text} />
      <Box sx={{ flex: 1 }} />
      <nav aria-label="Of this manuscript" className="tabs">
        <PageLink id={info.id} page="text" now={page} title="The text itself">
          Text
        </PageLink>
        <PageLink id={info.id} page="ledger" now={page} title="Every change, pending and decided, as a table">
          Ledger
        </PageLink>
        <PageLink id={info.id} page="talk" now={page} title="Every thread of comments, as a list">
          Talk
        </PageLink>
      </nav>
      {page === 'text' && (
        <>
          <span className="bar-line" />
          <Readings look={look} onLook={onLook} />
        </>
      )}
      {text.snapshot().state && (
        <LensMenu
          info={info}
          me={me.id}
          text={text}
          lens={lens}
          onLens={onLens}
          kept={kept}
          onKept={onKept}
          open={lensOpen}
          onOpen={onLensOpen}
        />
      )}
      <Here text={text} people={info.people} me={me.id} onReadAlong={onReadAlong} onGoTo={onGoTo} />
      <PostLink />
      <MyMenu me={me} hue={info.people.find(({ id }) => id === me.id)?.hue} />
    </header>
  );
});
