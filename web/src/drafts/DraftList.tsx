import { Button, Drawer, TextField, Tooltip } from '@mui/material';
import { useState } from 'react';
import { counted } from '@tea-pencil/core';
import type { Draft, Drafts } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { usePop } from '../kit/focus';
import { useOpened } from '../opened/opened';
import { keeperOf, nameOfDraft, sinceWords } from './words';
import type { Choice } from './use-choice';

const dayOf = (at: string) =>
  new Date(at).toLocaleDateString(undefined, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });
const timeOf = (at: string) => new Date(at).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });

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
        <p className="second">
          Of those that kept themselves all stay for two days, one a day for a month, then one a week. No moment is
          lost: the slider goes to any.
        </p>
      </Drawer>
    </>
  );
}

function Line({ draft, choice, onChosen }: { draft: Draft; choice: Choice; onChosen(): void }) {
  const { info, may, nameOf, sayDone } = useOpened();
  const attempt = useTrying(keys.drafts(info.id));
  const [naming, setNaming] = useState<string | null>(null);
  const path = `/manuscripts/${info.id}/drafts`;
  const rename = async () => {
    const name = naming?.trim() ?? '';
    setNaming(null);
    if (name !== (draft.name ?? '')) await attempt('PATCH', `${path}/${draft.id}`, { name: name || null });
  };
  const letGo = async () => {
    if (!(await attempt('DELETE', `${path}/${draft.id}`))) return;
    const again = { version: draft.version, ...(draft.name !== null && { name: draft.name }) };
    sayDone(
      `“${nameOfDraft(draft)}” is not kept any more; its moment stays on the time line.`,
      () => void attempt('POST', path, again),
    );
  };
  const { facts } = draft;
  return (
    <li>
      {naming === null ? (
        <strong>{nameOfDraft(draft)}</strong>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void rename();
          }}
        >
          <TextField
            size="small"
            autoFocus
            fullWidth
            label="Name of the draft"
            value={naming}
            onChange={({ target }) => setNaming(target.value)}
            onBlur={() => void rename()}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
        </form>
      )}
      <span className="second">
        {timeOf(draft.at)} · {keeperOf(draft, nameOf)}
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
        {may.write && (
          <Button size="small" color="inherit" onClick={() => setNaming(draft.name ?? '')}>
            Name
          </Button>
        )}
        {may.write && draft.reason !== 'came' && (
          <Button size="small" color="inherit" onClick={() => void letGo()}>
            Let go
          </Button>
        )}
      </span>
    </li>
  );
}
