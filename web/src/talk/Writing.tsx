import { Button, MenuItem, Select, Tooltip } from '@mui/material';
import { useRef, useState } from 'react';
import { isBlank, remarkOf, type Remark } from '@tea-pencil/core';
import { mayAtLeast } from '../api/queries';
import { useTalkContext } from './context';
import { draftKey, keepDraft, readDraft, type Draft } from './unsent';
import { RemarkField } from './RemarkField';

/** What is sent: words, and whom they ask, which wording they propose, whether they are for oneself. */
export interface Written {
  body: Remark;
  query?: { to: string };
  proposal?: { words: string };
  toSelf?: boolean;
}

interface Props {
  label: string;
  button: string;
  /** Where its draft is kept. */
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
  about?: Draft['about'];
  autoFocus?: boolean;
  onSend(written: Written): Promise<void>;
  onLeave?: () => void;
}

/** A field for a comment or a reply; what was written stays in it, over a reload too, until it is kept. */
export function Writing(props: Props) {
  const { label, button, where, initial, words = null, mayBeAlone, alone = false, plain, about, autoFocus } = props;
  const { onSend, onLeave } = props;
  const { info, me } = useTalkContext();
  const key = draftKey(me, info.id, where);
  const [kept] = useState(() => readDraft(key));
  const [draft, setDraft] = useState<Draft>(kept ?? { body: initial ?? remarkOf('') });
  const [sending, setSending] = useState(false);
  const [round, setRound] = useState(0); // a field begins anew when what was in it has been sent
  const newest = useRef(draft);
  const place = useRef<HTMLDivElement>(null);
  const change = (part: Partial<Draft>) => {
    newest.current = { ...newest.current, ...part, ...(about && { about }) };
    setDraft(newest.current);
    const { body, wording } = newest.current;
    keepDraft(key, isBlank(body) && !wording ? null : newest.current);
  };
  const { body, query = null, wording = null } = draft;
  const toSelf = alone || !!draft.toSelf;
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
      keepDraft(key, null);
      newest.current = { body: remarkOf('') };
      setDraft(newest.current);
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
    keepDraft(key, null);
    onLeave?.();
  };
  const others = info.people.filter(({ id, role }) => role && id !== me && mayAtLeast(role, 'remarker'));
  const open = ready || !!onLeave;
  // Its tools stay while there is anything to send, so that nothing moves away under the pointer.
  return (
    <div ref={place} className={`writing${open ? ' filled' : ''}`}>
      <RemarkField
        key={round}
        label={label}
        {...(round ? {} : { initial: draft.body })}
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
              Leave it
            </Button>
          )}
          <span style={{ flex: 1 }} />
          {!plain && !toSelf && words !== null && (
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
              <button
                type="button"
                className="talk-act"
                aria-pressed={toSelf}
                onClick={() => change({ toSelf: !toSelf })}
              >
                to myself
              </button>
            </Tooltip>
          )}
        </div>
      )}
      {open && !plain && !toSelf && others.length > 0 && (
        <Select
          variant="standard"
          disableUnderline
          displayEmpty
          value={query ?? ''}
          onChange={({ target }) => change({ query: target.value || null })}
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
      )}
    </div>
  );
}
