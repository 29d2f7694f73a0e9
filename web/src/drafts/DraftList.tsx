import { Button, Drawer, TextField, Tooltip } from '@mui/material';
import { useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { Draft, DraftChange, Drafts, GoneDraft } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { usePop } from '../kit/focus';
import { clock, said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { keeperOf, nameOfDraft, sinceWords } from './words';
import type { Choice } from './use-choice';

const dayOf = (at: string) =>
  new Date(at).toLocaleDateString(undefined, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });

/** Every kept state, the newest first, by day. */
export function DraftList({ all, choice }: { all: Drafts; choice: Choice }) {
  const { at, open, close, props, transition } = usePop();
  const { anchorEl: _, ...drawer } = props;
  const days = new Map<string, Draft[]>();
  for (const draft of all.drafts) days.set(dayOf(draft.at), [...(days.get(dayOf(draft.at)) ?? []), draft]);
  return (
    <>
      <Button color="inherit" variant="outlined" aria-haspopup="dialog" aria-expanded={!!at} onClick={open}>
        {counted(all.drafts.length, 'kept draft')}
      </Button>
      <Drawer
        anchor="right"
        {...drawer}
        slotProps={{ transition, paper: { 'aria-label': 'Kept drafts', role: 'dialog', className: 'draft-list' } }}
      >
        <h2 className="serif">Kept drafts</h2>
        {[...days].map(([day, drafts]) => (
          <section key={day} aria-label={day}>
            <h3>{day}</h3>
            <ul>
              {drafts.map((draft) => (
                <Line key={draft.id} draft={draft} choice={choice} onChosen={() => close()} />
              ))}
            </ul>
          </section>
        ))}
        {all.gone.length > 0 && (
          <section aria-label="Let go in the last 30 days">
            <h3>Let go in the last 30 days</h3>
            <ul>
              {all.gone.map((draft) => (
                <Gone key={draft.id} draft={draft} />
              ))}
            </ul>
          </section>
        )}
        <p className="second">
          Of those that kept themselves all stay for two days, one a day for a month, then one a week. No moment is
          lost: the slider goes to any.
        </p>
      </Drawer>
    </>
  );
}

/** Whether one may rename a draft or let it go: one's own, or as a keeper any. */
function useMayChange({ keptBy }: Draft): boolean {
  const { me, may } = useOpened();
  return may.write && (keptBy === me.id || may.keep);
}

/** A draft that somebody has let go. */
function Gone({ draft }: { draft: GoneDraft }) {
  const { info, nameOf } = useOpened();
  const attempt = useTrying(keys.drafts(info.id));
  return (
    <li>
      <strong>{nameOfDraft(draft)}</strong>
      <span className="second">
        {draft.goneBy ? `${nameOf(draft.goneBy)} let it go` : 'It was let go'}, {said(draft.goneAt)}
      </span>
      {useMayChange(draft) && (
        <span className="draft-acts">
          <Button size="small" onClick={() => void attempt('POST', `/manuscripts/${info.id}/drafts/${draft.id}/back`)}>
            Bring back
          </Button>
        </span>
      )}
    </li>
  );
}

function Line({ draft, choice, onChosen }: { draft: Draft; choice: Choice; onChosen(): void }) {
  const { info, nameOf, sayDone } = useOpened();
  const mayChange = useMayChange(draft);
  const attempt = useTrying(keys.drafts(info.id));
  const [writing, setWriting] = useState(false);
  const path = `/manuscripts/${info.id}/drafts`;
  const change = (next: DraftChange) => {
    setWriting(false);
    if ((next.name ?? null) !== draft.name || next.note !== draft.note)
      void attempt('PATCH', `${path}/${draft.id}`, next);
  };
  const letGo = async () => {
    if (!(await attempt('DELETE', `${path}/${draft.id}`))) return;
    sayDone(
      `“${nameOfDraft(draft)}” is not kept any more; for thirty days it can be brought back here.`,
      () => void attempt('POST', `${path}/${draft.id}/back`),
    );
  };
  const { facts } = draft;
  return (
    <li>
      {writing ? (
        <About draft={draft} onKeep={change} onCancel={() => setWriting(false)} />
      ) : (
        <>
          <strong>{nameOfDraft(draft)}</strong>
          {draft.note && <span className="draft-note">{draft.note}</span>}
        </>
      )}
      <span className="second">
        {clock(new Date(draft.at))} · {keeperOf(draft, nameOf)}
        {facts && ` · ${counted(facts.words, 'word')}, ${facts.pending} to decide`}
      </span>
      <span className="second">
        {sinceWords(draft)}
        {facts && facts.authors.length > 0 && ` · ${facts.authors.map(nameOf).join(', ')}`}
      </span>
      <span className="draft-acts">
        <Tooltip title="Beside the state that is looked at">
          <Button
            size="small"
            onClick={() => {
              choice.setLooking('beside');
              choice.choose(draft.version, choice.after);
              onChosen();
            }}
          >
            Lay beside
          </Button>
        </Tooltip>
        <Button
          size="small"
          onClick={() => {
            choice.setLooking('one');
            choice.choose(Math.min(choice.before, draft.version), draft.version);
            onChosen();
          }}
        >
          Read
        </Button>
        {mayChange && (
          <Button size="small" color="inherit" aria-expanded={writing} onClick={() => setWriting(true)}>
            Name and note
          </Button>
        )}
        {mayChange && draft.reason !== 'came' && (
          <Button size="small" color="inherit" onClick={() => void letGo()}>
            Let go
          </Button>
        )}
      </span>
    </li>
  );
}

interface AboutProps {
  draft: Draft;
  onKeep(change: DraftChange): void;
  onCancel(): void;
}

/** How a draft is called, and what is said of it. */
function About({ draft, onKeep, onCancel }: AboutProps) {
  const [name, setName] = useState(draft.name ?? '');
  const [note, setNote] = useState(draft.note);
  return (
    <form
      className="draft-about"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep({ name: name.trim() || null, note: note.trim() });
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onCancel();
      }}
    >
      <TextField
        size="small"
        autoFocus
        fullWidth
        label="Name of the draft"
        value={name}
        onChange={({ target }) => setName(target.value)}
        slotProps={{ htmlInput: { maxLength: 120 } }}
      />
      <TextField
        size="small"
        fullWidth
        multiline
        maxRows={6}
        label="Note for the others"
        value={note}
        onChange={({ target }) => setNote(target.value)}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
      />
      <span className="draft-acts">
        <Button size="small" type="submit">
          Keep
        </Button>
        <Button size="small" color="inherit" onClick={onCancel}>
          Cancel
        </Button>
      </span>
    </form>
  );
}
