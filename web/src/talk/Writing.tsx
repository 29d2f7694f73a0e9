import { Button, MenuItem, Select, Tooltip } from '@mui/material';
import { useRef, useState } from 'react';
import { isBlank, remarkOf, type Remark } from '@tea-pencil/core';
import { mayAtLeast } from '../api/queries';
import { useOpened } from '../opened/opened';
import { unsentKey, keepUnsent, readUnsent, type Unsent } from './unsent';
import { RemarkField } from './RemarkField';
import type { Written } from './shapes';

interface Props {
  label: string;
  button: string;
  /** Under which name it is kept until it is sent. */
  where: string;
  /** What a comment that is changed says so far. */
  initial?: Remark;
  /** The words for which other wording can be proposed; null where there are none. */
  words?: string | null;
  /** Whether it may be for oneself only: a comment that begins a thread. */
  mayBeAlone?: boolean;
  /** Whether the thread is for oneself, so that it asks and mentions nobody. */
  alone?: boolean;
  /** Whether it can ask somebody and propose something; a change of what is there cannot. */
  plain?: boolean;
  about?: Unsent['about'];
  autoFocus?: boolean;
  onSend(sent: Written): Promise<void>;
  onLeave?: () => void;
}

/** A field for a comment or a reply; what was written stays in it, over a reload too, until it is kept. */
export function Writing(props: Props) {
  const { label, button, where, initial, words = null, mayBeAlone, alone = false, plain, about, autoFocus } = props;
  const { onSend, onLeave } = props;
  const {
    info,
    me: { id: me },
  } = useOpened();
  const key = unsentKey(me, info.id, where);
  const [kept] = useState(() => readUnsent(key));
  const [written, setWritten] = useState<Unsent>(kept ?? { body: initial ?? remarkOf('') });
  const [sending, setSending] = useState(false);
  const [round, setRound] = useState(0); // a field begins anew when what was in it has been sent
  const newest = useRef(written);
  const place = useRef<HTMLDivElement>(null);
  const change = (part: Partial<Unsent>) => {
    newest.current = { ...newest.current, ...part, ...(about && { about }) };
    setWritten(newest.current);
    const { body, wording } = newest.current;
    keepUnsent(key, isBlank(body) && !wording ? null : newest.current);
  };
  const { body, query = null, wording = null } = written;
  const toSelf = alone || !!written.toSelf;
  // A wording speaks for itself.
  const ready = !isBlank(body) || !!wording?.trim();
  const send = async () => {
    if (!ready || sending) return;
    setSending(true);
    try {
      await onSend({
        body: newest.current.body,
        ...(query && !toSelf && { query: { to: query } }),
        ...(wording !== null && !toSelf && { proposal: { words: wording } }),
        ...(mayBeAlone && toSelf && { toSelf }),
      });
      keepUnsent(key, null);
      newest.current = { body: remarkOf('') };
      setWritten(newest.current);
      setRound((n) => n + 1);
      // Who has answered is at the thread again.
      const { current } = place;
      if (current?.contains(document.activeElement)) current.closest<HTMLElement>('[role=comment]')?.focus();
    } catch {
      // what was written stays in the field; the sentence has been shown
    } finally {
      setSending(false);
    }
  };
  const leave = () => {
    keepUnsent(key, null);
    onLeave?.();
  };
  const open = ready || !!onLeave;
  // Its tools stay while there is anything to send, so that nothing moves away under the pointer.
  return (
    <div ref={place} className={`writing${open ? ' filled' : ''}`}>
      <RemarkField
        key={round}
        label={label}
        {...(round ? {} : { initial: written.body })}
        autoFocus={!!autoFocus && !round}
        alone={toSelf}
        onChange={(now) => change({ body: now })}
        onSend={() => void send()}
        onLeave={onLeave && leave}
      />
      {wording !== null && !toSelf && (
        <textarea
          className="wording serif"
          aria-label="Proposed wording"
          rows={Math.min(6, Math.ceil((wording.length + 1) / 34) + 1)}
          maxLength={10_000}
          value={wording}
          onChange={({ target }) => change({ wording: target.value })}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void send();
          }}
        />
      )}
      {open && (
        <div className="writing-acts">
          <Button size="small" variant="contained" disabled={!ready || sending} onClick={() => void send()}>
            {button}
          </Button>
          {onLeave && (
            <Button size="small" color="inherit" onClick={leave}>
              Cancel
            </Button>
          )}
          <Kinds
            {...{ wording, words, toSelf, change }}
            mayPropose={!plain && !toSelf && words !== null}
            mayBeAlone={!!mayBeAlone}
          />
        </div>
      )}
      {open && !plain && !toSelf && <Asks query={query} onChoose={(whom) => change({ query: whom })} />}
    </div>
  );
}

/** Other wording proposed, and whether it is for oneself. */
function Kinds({
  wording,
  words,
  toSelf,
  change,
  mayPropose,
  mayBeAlone,
}: {
  wording: string | null;
  words: string | null;
  toSelf: boolean;
  change(part: Partial<Unsent>): void;
  mayPropose: boolean;
  mayBeAlone: boolean;
}) {
  return (
    <>
      <span style={{ flex: 1 }} />
      {mayPropose && (
        <Tooltip title="Other words for these, which one click then makes a change">
          <button
            type="button"
            className="talk-act"
            aria-pressed={wording !== null}
            onClick={() => change({ wording: wording === null ? words : null })}
          >
            wording
          </button>
        </Tooltip>
      )}
      {mayBeAlone && (
        <Tooltip title="A note that nobody else sees">
          <button type="button" className="talk-act" aria-pressed={toSelf} onClick={() => change({ toSelf: !toSelf })}>
            to myself
          </button>
        </Tooltip>
      )}
    </>
  );
}

/** Who is asked for an answer. */
function Asks({ query, onChoose }: { query: string | null; onChoose(whom: string | null): void }) {
  const { info, me } = useOpened();
  const others = info.people.filter(({ id, role }) => role && id !== me.id && mayAtLeast(role, 'remarker'));
  if (!others.length) return null;
  return (
    <Select
      variant="standard"
      disableUnderline
      displayEmpty
      value={query ?? ''}
      onChange={({ target }) => onChoose(target.value || null)}
      slotProps={{ input: { 'aria-label': 'Who is asked for an answer' } }}
      className="asks"
      sx={{
        fontSize: 12.5,
        color: query ? 'secondary.main' : 'text.secondary',
        '& .MuiSelect-select': { py: 0.25 },
      }}
    >
      <MenuItem value="">asks nobody for an answer</MenuItem>
      {others.map(({ id, name }) => (
        <MenuItem key={id} value={id}>
          asks {name} for an answer
        </MenuItem>
      ))}
    </Select>
  );
}
