import { Box, Button, Menu, MenuItem, Select, TextField, Tooltip } from '@mui/material';
import type { Node } from 'prosemirror-model';
import { useEffect, useMemo, useRef, useState } from 'react';
import { alikeTo, describeChange, inSentence, type Change, type Piece, type Verdict } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import { exactly, said } from '../kit/time';
import { Pieces } from '../reviewing/Pieces';
import type { Order, ReadAs } from '@tea-pencil/wire';
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
        <Pieces pieces={pieces} side={side} kind={change.kind} lead={lead} />
      </span>
    </div>
  );
}

interface Props {
  doc: Node;
  info: ManuscriptInfo;
  me: string;
  through: ReadThrough;
  changes: readonly Change[];
  mayDecide: boolean;
  mayRemark: boolean;
  whole: boolean;
  onComment(change: Change, text: string): Promise<void>;
  /** How many open queries there are in the lens, and going to the next or the one before. */
  queries: number;
  onQuery(direction: 1 | -1): void;
  onLens(): void;
  onAlike(change: Change): void;
  onReading(reading: ReadAs): void;
  onKeys(): void;
  /** Back to the text, and with the read-through over. */
  onText(): void;
  onEnd(): void;
}

/** The bar at the foot: what one is at, and the decision. While it has the focus, bare letters do. */
export function ReadThroughBar(props: Props) {
  const { doc, info, me, through, changes, mayDecide, mayRemark, whole } = props;
  const { queries, onQuery, onComment, onLens, onAlike, onReading, onKeys, onText, onEnd } = props;
  const bar = useRef<HTMLDivElement>(null);
  const [writing, setWriting] = useState(false);
  const [words, setWords] = useState('');
  const [alikeAt, setAlikeAt] = useState<HTMLElement | null>(null);
  const { current } = through;
  const focus = () => bar.current?.focus();
  useEffect(focus, []);

  const sides = useMemo(() => (current ? inSentence(doc, current) : null), [doc, current]);
  const alike = useMemo(() => (current ? alikeTo(current, changes) : []), [current, changes]);
  const own = !!current && whoIs(info, current.author) === me;
  const may = (verdict: Verdict) => mayDecide || (own && verdict === 'reject');
  const decide = (verdict: Verdict, ids?: string[]) => {
    if (current && may(verdict)) through.decide(verdict, ids);
  };
  const comment = () => mayRemark && current && setWriting(true);
  const send = async () => {
    if (!current || !words.trim()) return;
    try {
      await onComment(current, words.trim());
      setWords('');
      setWriting(false);
      focus();
    } catch {
      // the sentence has been said; what was written stays
    }
  };

  const keys: Record<string, () => void> = {
    j: through.next,
    k: through.previous,
    y: () => decide('accept'),
    n: () => decide('reject'),
    s: through.skip,
    u: through.takeBack,
    c: comment,
    l: onLens,
    q: () => onQuery(1),
    Q: () => onQuery(-1),
    '1': () => onReading('marked'),
    '2': () => onReading('fair'),
    '3': () => onReading('before'),
    '?': onKeys,
    Escape: onText,
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const { target, key, ctrlKey, metaKey, altKey } = event;
    if (ctrlKey || metaKey || altKey || (target as HTMLElement).closest('input, textarea, [role=listbox]')) return;
    const act = keys[key] ?? keys[key.toLowerCase()];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };

  const name = current ? (info.people.find(({ id }) => id === current.author)?.name ?? 'Someone') : '';
  const { number, total, left, skipped, done } = through;
  return (
    <footer>
      <div ref={bar} tabIndex={-1} role="toolbar" aria-label="Read-through" onKeyDown={onKeyDown} className="through">
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
              value={through.order}
              onChange={({ target }) => through.setOrder(target.value as Order)}
              slotProps={{ input: { 'aria-label': 'In which order' } }}
              sx={{ fontSize: 12, color: 'inherit', '& .MuiSelect-select': { py: 0 } }}
            >
              {orders.map(([order, label]) => (
                <MenuItem key={order} value={order}>
                  {label}
                </MenuItem>
              ))}
            </Select>
          </Box>
        </Box>
        {writing && current ? (
          <TextField
            autoFocus
            size="small"
            label={`Comment on this change by ${name}`}
            value={words}
            onChange={({ target }) => setWords(target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') void send();
              if (event.key !== 'Escape') return;
              event.stopPropagation();
              setWriting(false);
              focus();
            }}
            slotProps={{ htmlInput: { maxLength: 10_000 } }}
            helperText="Enter keeps it, Escape leaves it"
            sx={{ flex: 1 }}
          />
        ) : (
          <Box sx={{ flex: 1, minWidth: 0 }} aria-live="polite">
            {current && sides ? (
              <>
                <Box className="second through-who">
                  <span
                    className="dot"
                    data-author={current.author}
                    data-kind={current.kind}
                    style={{ width: 7, height: 7 }}
                  />
                  <b>{name}</b> {describeChange(current)} ·{' '}
                  <Tooltip title={exactly(current.date)}>
                    <span>{said(current.date)}</span>
                  </Tooltip>
                  {' · '}¶ {current.whereabouts.paragraph}
                  {current.whereabouts.heading && `, ${current.whereabouts.heading}`}
                </Box>
                <Side label="Before" side="before" pieces={sides.before} change={current} />
                <Side label="After" side="after" pieces={sides.after} change={current} />
              </>
            ) : (
              <span>{whole ? 'All changes are decided.' : 'Nothing in this lens waits for a decision any more.'}</span>
            )}
          </Box>
        )}
        {alike.length > 0 && mayDecide && !writing && (
          <>
            <Button color="inherit" onClick={(event) => setAlikeAt(event.currentTarget)} sx={{ color: 'primary.main' }}>
              and {alike.length} alike
            </Button>
            <Menu anchorEl={alikeAt} open={!!alikeAt} onClose={() => setAlikeAt(null)} transitionDuration={0}>
              {(['accept', 'reject'] as const).map((verdict) => (
                <MenuItem
                  key={verdict}
                  onClick={() => {
                    setAlikeAt(null);
                    decide(verdict, [current!.id, ...alike.map(({ id }) => id)]);
                  }}
                >
                  {verdict === 'accept' ? 'Accept' : 'Reject'} all {alike.length + 1}
                </MenuItem>
              ))}
              <MenuItem
                onClick={() => {
                  setAlikeAt(null);
                  onAlike(current!);
                }}
              >
                Look at these only
              </MenuItem>
            </Menu>
          </>
        )}
        {queries > 0 && !writing && (
          <button
            type="button"
            className="plain-button quiet"
            title="The next open query (Q); with Shift, the one before"
            onClick={() => onQuery(1)}
          >
            {queries === 1 ? '1 query' : `${queries} queries`}
            <span className="keycap">Q</span>
          </button>
        )}
        <button
          type="button"
          className="plain-button"
          title="The change before (K)"
          aria-label="Previous"
          disabled={!current}
          onClick={through.previous}
        >
          ↑
        </button>
        <button
          type="button"
          className="plain-button"
          title="The next change (J)"
          aria-label="Next"
          disabled={!current}
          onClick={through.next}
        >
          ↓
        </button>
        <Keyed label="Take back" letter="U" disabled={!through.mayTakeBack} onClick={through.takeBack} />
        {mayRemark && <Keyed label="Comment" letter="C" disabled={!current} onClick={() => comment()} />}
        <Keyed label="Skip" letter="S" disabled={!current} onClick={through.skip} />
        {(mayDecide || own) && (
          <Keyed
            look="outlined"
            label={mayDecide ? 'Reject' : 'Withdraw'}
            letter="N"
            disabled={!current}
            onClick={() => decide('reject')}
          />
        )}
        {mayDecide && (
          <Keyed look="chief" label="Accept" letter="Y" disabled={!current} onClick={() => decide('accept')} />
        )}
        <button type="button" className="plain-button" aria-label="End the read-through" onClick={onEnd}>
          ×
        </button>
      </div>
    </footer>
  );
}

/** A button with its key. Drawn at every step of the read-through, so it is a plain one. */
function Keyed({
  label,
  letter,
  look = 'quiet',
  disabled,
  onClick,
}: {
  label: string;
  letter: string;
  look?: 'quiet' | 'outlined' | 'chief';
  disabled: boolean;
  onClick(): void;
}) {
  return (
    <button type="button" className={`plain-button ${look}`} disabled={disabled} onClick={onClick}>
      {label}
      <span className="keycap">{letter}</span>
    </button>
  );
}
