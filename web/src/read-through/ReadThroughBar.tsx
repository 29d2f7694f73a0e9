import { Box, Button, Menu, MenuItem, Select, TextField, Tooltip } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import {
  alikeKey,
  alikeTo,
  describeChange,
  everything,
  inSentence,
  isEverything,
  remarkOf,
  type Change,
  type Piece,
  type Verdict,
  counted,
} from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useActs, useCommands } from '../commands/acts';
import { commandNamed, keyWords, titleOf } from '../commands/table';
import { usePop } from '../kit/focus';
import { exactly, said } from '../kit/time';
import { show, useDrawn, useLooking, useOpened } from '../opened/opened';
import { Pieces } from '../reviewing/Pieces';
import { useReviewed } from '../reviewing/use-reviewing';
import { useTalkContext } from '../talk/context';
import type { Order } from '@tea-pencil/wire';
import type { ReadThrough } from './use-read-through';

const orders: [order: Order, label: string][] = [
  ['place', 'by place'],
  ['author', 'by author'],
  ['oldest', 'oldest first'],
];

/** How much of a sentence stands before what differs, so that it is in sight on one line. */
const lead = 34;

function Side({
  label,
  side,
  pieces,
  change,
}: {
  label: string;
  side: 'before' | 'after';
  pieces: Piece[];
  change: Change;
}) {
  return (
    <div className="through-side">
      <span className="through-label">{label}</span>
      <span className="serif through-sentence" data-author={change.author}>
        <Pieces pieces={pieces} side={side} change={change} lead={lead} />
      </span>
    </div>
  );
}

interface Props {
  through: ReadThrough;
  /** How many open queries there are in the lens, and going to the next or the one before. */
  queries: number;
  onQuery(direction: 1 | -1): void;
  /** Back to the text, and with the read-through over. */
  onText(): void;
  onEnd(): void;
}

/** Tells the page how high the foot is, for what is said for a moment above it. */
function useFootHeight(foot: RefObject<HTMLElement | null>) {
  useEffect(() => {
    const { style } = document.documentElement;
    const resized = new ResizeObserver(() => style.setProperty('--foot', `${foot.current?.offsetHeight ?? 0}px`));
    resized.observe(foot.current!);
    return () => {
      resized.disconnect();
      style.removeProperty('--foot');
    };
  }, [foot]);
}

/** The bar at the foot: what one is at, and the decision. While it has the keyboard, bare letters do. */
export function ReadThroughBar(props: Props) {
  const { through, queries, onQuery, onText, onEnd } = props;
  const opened = useOpened();
  const { info, me, may, say } = opened;
  const { look, setLook } = useLooking();
  const bar = useRef<HTMLDivElement>(null);
  const [writing, setWriting] = useState(false);
  const [words, setWords] = useState('');
  const { current } = through;
  const focus = () => bar.current?.focus();
  useEffect(focus, []);
  useFootHeight(bar);

  const own = may.withdraw && !!current && whoIs(info, current.author) === me.id;
  const mayGive = (verdict: Verdict) => may.decide || (own && verdict === 'reject');
  const decide = (verdict: Verdict, ids?: string[]) => {
    if (!current) return;
    if (mayGive(verdict)) return through.decide(verdict, ids);
    say(
      info.seal
        ? 'This manuscript is sealed: nothing is decided until the seal is lifted.'
        : own
          ? 'Accepting is for those who may decide here. Your own changes you may withdraw.'
          : 'Deciding is for those who may decide here. You may comment on this change.',
    );
  };
  useCommands({
    next: through.next,
    previous: through.previous,
    accept: () => decide('accept'),
    reject: () => decide('reject'),
    skip: through.skip,
    'take back': through.takeBack,
    'comment here': () => setWriting(may.remark && !!current),
    'lens here': () => show(opened, 'lens'),
    query: () => onQuery(1),
    'query before': () => onQuery(-1),
    marked: () => setLook({ ...look, reading: 'marked' }),
    fair: () => setLook({ ...look, reading: 'fair' }),
    before: () => setLook({ ...look, reading: 'before' }),
    'to the text': onText,
  });
  const none = !current;
  return (
    <footer>
      <div ref={bar} tabIndex={-1} role="toolbar" aria-label="Read-through" className="through">
        <HowFar through={through} />
        {writing && current ? (
          <CommentField
            change={current}
            words={words}
            onWords={setWords}
            onLeave={() => {
              setWriting(false);
              focus();
            }}
          />
        ) : (
          <Current change={current} />
        )}
        {current && may.decide && !writing && <Alike change={current} decide={decide} />}
        {queries > 0 && !writing && <Keyed id="query" label={counted(queries, 'query', 'queries')} disabled={false} />}
        <Keyed id="previous" face="↑" disabled={none} />
        <Keyed id="next" face="↓" disabled={none} />
        <Keyed id="take back" disabled={!through.mayTakeBack} />
        {may.remark && <Keyed id="comment here" disabled={none} />}
        <Keyed id="skip" disabled={none} />
        {(may.decide || own) && (
          <Keyed id="reject" look="outlined" label={may.decide ? 'Reject' : 'Withdraw'} disabled={none} />
        )}
        {may.decide && <Keyed id="accept" look="chief" disabled={none} />}
        <button type="button" className="plain-button ends" aria-label="End the read-through" onClick={onEnd}>
          ×
        </button>
      </div>
    </footer>
  );
}

/** At which change one is, how many are left, and in which order they come. */
function HowFar({ through }: { through: ReadThrough }) {
  const whole = isEverything(useLooking().lens);
  const { number, total, left, skipped, done, order, setOrder } = through;
  return (
    <Box sx={{ width: 168, flex: 'none' }}>
      <Box sx={{ whiteSpace: 'nowrap' }} role="status" aria-label="How far">
        <strong data-testid="number">{number}</strong> of {total} {whole ? 'to decide' : 'in this lens'}
      </Box>
      <div className="through-track" aria-hidden>
        <div style={{ width: `${total ? (done / total) * 100 : 100}%` }} />
      </div>
      <Box className="second" sx={{ display: 'flex', alignItems: 'baseline', gap: 0.75, whiteSpace: 'nowrap' }}>
        <span>
          {left} left{skipped > 0 && `, ${skipped} skipped`}
        </span>
        <Select
          variant="standard"
          disableUnderline
          value={order}
          onChange={({ target }) => setOrder(target.value as Order)}
          slotProps={{ input: { 'aria-label': 'In which order' } }}
          sx={{ fontSize: 12, color: 'inherit', '& .MuiSelect-select': { py: 0 } }}
        >
          {orders.map(([by, label]) => (
            <MenuItem key={by} value={by}>
              {label}
            </MenuItem>
          ))}
        </Select>
      </Box>
    </Box>
  );
}

/** The change one is at: who, what, when, where, and its sentence before and after. */
function Current({ change }: { change: Change | null }) {
  const { nameOf } = useOpened();
  const whole = isEverything(useLooking().lens);
  const { doc } = useDrawn();
  const sides = useMemo(() => (change ? inSentence(doc, change) : null), [doc, change]);
  return (
    <Box sx={{ flex: 1, minWidth: 0 }} aria-live="polite">
      {change && sides ? (
        <>
          <Box className="second through-who">
            <span className="dot" data-author={change.author} data-kind={change.kind} style={{ width: 7, height: 7 }} />
            <b>{nameOf(change.author)}</b> {describeChange(change)} ·{' '}
            <Tooltip title={exactly(change.date)}>
              <span>{said(change.date)}</span>
            </Tooltip>
            {' · '}¶ {change.whereabouts.paragraph}
            {change.inNote && ', footnote'}
            {change.whereabouts.heading && `, ${change.whereabouts.heading}`}
          </Box>
          <Side label="Before" side="before" pieces={sides.before} change={change} />
          <Side label="After" side="after" pieces={sides.after} change={change} />
        </>
      ) : (
        <span>{whole ? 'All changes are decided.' : 'Nothing in this lens waits for a decision any more.'}</span>
      )}
    </Box>
  );
}

/** A comment on the change one is at, without leaving it. What was written stays until it is kept. */
function CommentField({
  change,
  words,
  onWords,
  onLeave,
}: {
  change: Change;
  words: string;
  onWords(words: string): void;
  onLeave(): void;
}) {
  const { nameOf } = useOpened();
  const { talk } = useTalkContext();
  const send = () => {
    if (!words.trim()) return;
    const sent = talk.sayOn(change, { body: remarkOf(words.trim()) });
    // What is refused has been said, and stays in the field.
    sent.then(
      () => {
        onWords('');
        onLeave();
      },
      () => undefined,
    );
  };
  return (
    <TextField
      autoFocus
      size="small"
      label={`Comment on this change by ${nameOf(change.author)}`}
      value={words}
      onChange={({ target }) => onWords(target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') send();
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onLeave();
      }}
      slotProps={{ htmlInput: { maxLength: 10_000 } }}
      helperText="Enter keeps it, Escape leaves it"
      sx={{ flex: 1 }}
    />
  );
}

/** Deciding all that are the same edit, or looking at them only. */
function Alike({ change, decide }: { change: Change; decide(verdict: Verdict, ids: string[]): void }) {
  const { setLens } = useLooking();
  const { inLens } = useReviewed();
  const alike = useMemo(() => alikeTo(change, inLens), [change, inLens]);
  const { open, close, props, transition } = usePop();
  if (!alike.length) return null;
  return (
    <>
      <Button color="inherit" onClick={open} sx={{ color: 'primary.main' }}>
        and {alike.length} alike
      </Button>
      <Menu {...props} slotProps={{ transition }}>
        {(['accept', 'reject'] as const).map((verdict) => (
          <MenuItem
            key={verdict}
            onClick={() => close(() => decide(verdict, [change.id, ...alike.map(({ id }) => id)]))}
          >
            {verdict === 'accept' ? 'Accept' : 'Reject'} all {alike.length + 1}
          </MenuItem>
        ))}
        <MenuItem onClick={() => close(() => setLens({ ...everything, alike: alikeKey(change) }))}>
          Look at these only
        </MenuItem>
      </Menu>
    </>
  );
}

/** A button of a command with its key. Drawn at every step of the read-through, so it is a plain one. */
function Keyed({
  id,
  label,
  face,
  look = face ? '' : 'quiet',
  disabled,
}: {
  id: string;
  /** Where it is called otherwise here. */
  label?: string;
  /** A sign in the place of its name; its key is said on pointing only. */
  face?: string;
  look?: '' | 'quiet' | 'outlined' | 'chief';
  disabled: boolean;
}) {
  const acts = useActs();
  const { name, key = '' } = commandNamed(id);
  return (
    <button
      type="button"
      className={`plain-button ${look}`}
      title={titleOf(id)}
      aria-label={face && name}
      disabled={disabled}
      onClick={() => acts.do(id)}
    >
      {face ?? label ?? name}
      {!face && <span className="keycap">{keyWords(key)}</span>}
    </button>
  );
}
