import { Box, Button, IconButton, MenuItem, Popover, Select, TextField, Tooltip } from '@mui/material';
import { startOfDay, subDays } from 'date-fns';
import { useState } from 'react';
import {
  answersOwed,
  changeKinds,
  countChanges,
  everything,
  isEverything,
  lensFromQuery,
  lensToQuery,
  outline,
  type Lens,
} from '@tea-pencil/core';
import { useThreads, whoIs } from '../api/queries';
import { changesOf } from './changes-of';
import { Choice, Choices } from '../kit/Choice';
import { Moment } from '../kit/Moment';
import { usePopRule } from '../kit/focus';
import { useStore } from '../kit/store';
import { show, useLooking, useOpened } from '../opened/opened';
import { lensNow } from './use-lens';
import { kindNames, lensWords, nameIn, toggled } from './words';

/** What one looks at now: whose changes, which kinds, since when, in which part. */
export function LensMenu() {
  const opened = useOpened();
  const { info, me, panels } = opened;
  const { lens } = useLooking();
  const open = useStore(panels, (all) => all.has('lens'));
  const { onExited, ...rule } = usePopRule();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const words = lensWords(lens, info, me.id);
  return (
    <>
      <Tooltip
        disableFocusListener
        title="What you look at now. What is outside the lens is drawn as plain text, and “all” means all in it."
      >
        <Button
          ref={setAt}
          color="inherit"
          aria-haspopup="dialog"
          aria-expanded={open}
          aria-label={`Lens: ${words}`}
          onClick={() => show(opened, 'lens')}
          sx={{
            border: '1px solid',
            borderColor: isEverything(lens) ? 'divider' : 'secondary.main',
            bgcolor: isEverything(lens) ? undefined : 'var(--teaTint)',
            fontWeight: 400,
            py: 0.4,
            minWidth: 58,
            flexShrink: 1,
          }}
        >
          <b className="lens-word">Lens</b>
          <span className={isEverything(lens) ? 'lens-words all' : 'lens-words'}>{words}</span>
        </Button>
      </Tooltip>
      <Popover
        open={open && !!at}
        anchorEl={at}
        onClose={() => show(opened, 'lens', false)}
        {...rule}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{
          transition: { onExited },
          paper: { role: 'dialog', 'aria-label': 'Lens', sx: { p: 2, width: 520 } },
        }}
      >
        {open && <LensChoices onDone={() => show(opened, 'lens', false)} />}
      </Popover>
    </>
  );
}

const times = (): [label: string, since: string | null][] => [
  ['any time', null],
  ['today', startOfDay(new Date()).toISOString()],
  ['since yesterday', startOfDay(subDays(new Date(), 1)).toISOString()],
  ['the last 7 days', startOfDay(subDays(new Date(), 7)).toISOString()],
];

/** Changes a part of the lens; what is chosen beside the rest is chosen of the lens at that moment, however quickly. */
type Narrow = (part: Partial<Lens> | ((now: Lens) => Partial<Lens>)) => void;

/** Whose, which kinds and states. */
function ChangeChoices({ narrow }: { narrow: Narrow }) {
  const { info, me, text } = useOpened();
  const { lens } = useLooking();
  const { doc } = text.snapshot().state!;
  const { byAuthor, byKind } = countChanges(changesOf(doc), (author) => whoIs(info, author));
  const people = info.people.filter((person) => person.is === person.id && (person.role || byAuthor.has(person.id)));
  const chosen = lens.authors.map((author) => whoIs(info, author));
  return (
    <>
      <Choices label="Whose">
        {people.map(({ id, name }) => (
          <Choice
            key={id}
            chosen={chosen.includes(id)}
            onChoose={() =>
              narrow(({ authors }) => ({
                authors: toggled(
                  authors.map((author) => whoIs(info, author)),
                  id,
                ),
              }))
            }
          >
            <span className="dot" data-author={id} style={{ width: 7, height: 7 }} />
            {id === me.id ? 'You' : name}
            <span className="lens-count">{byAuthor.get(id) ?? 0}</span>
          </Choice>
        ))}
      </Choices>
      <Choices label="Kinds">
        {changeKinds.map((kind) => (
          <Choice
            key={kind}
            chosen={lens.kinds.includes(kind)}
            onChoose={() => narrow(({ kinds }) => ({ kinds: toggled(kinds, kind) }))}
          >
            {kindNames[kind]}
            <span className="lens-count">{byKind.get(kind) ?? 0}</span>
          </Choice>
        ))}
      </Choices>
      <Choices label="State">
        {(['both', 'pending', 'decided'] as const).map((state) => (
          <Choice
            key={state}
            chosen={lens.state === state}
            title={state === 'decided' ? 'Decided changes are in the ledger; the text shows none' : undefined}
            onChoose={() => narrow({ state })}
          >
            {{ both: 'any', pending: 'to decide', decided: 'decided' }[state]}
          </Choice>
        ))}
      </Choices>
    </>
  );
}

/** Since when, and in which part of the text. */
function PlaceChoices({ narrow }: { narrow: Narrow }) {
  const { lens } = useLooking();
  const { text } = useOpened();
  const parts = outline(text.snapshot().state!.doc);
  return (
    <>
      <Choices label="Made">
        {times().map(([label, since]) => (
          <Choice key={label} chosen={lens.since === since} onChoose={() => narrow({ since })}>
            {label}
          </Choice>
        ))}
        <Moment label="Made since" value={lens.since} onChange={(since) => narrow({ since })} />
      </Choices>
      <Choices label="Part">
        <Select
          size="small"
          value={parts.some(({ key }) => key === lens.part) ? lens.part : ''}
          displayEmpty
          disabled={!parts.length}
          onChange={({ target }) => narrow({ part: target.value || null })}
          slotProps={{ input: { 'aria-label': 'Part of the text' } }}
          sx={{ fontSize: 13, '& .MuiSelect-select': { py: 0.5 }, maxWidth: 380 }}
        >
          <MenuItem value="">{parts.length ? 'the whole text' : 'the whole text; it has no headings'}</MenuItem>
          {parts.map(({ key, level }) => (
            <MenuItem key={key} value={key} sx={{ pl: 2 + level * 1.5 }}>
              {key}
            </MenuItem>
          ))}
        </Select>
      </Choices>
    </>
  );
}

/** What is said about them, and who owes an answer. */
function TalkChoices({ narrow }: { narrow: Narrow }) {
  const { info, me } = useOpened();
  const { lens } = useLooking();
  const owed = answersOwed(useThreads(info.id).data ?? []);
  // One who owes none any more is still what the lens is about.
  if (lens.owing !== null && !owed.has(lens.owing)) owed.set(lens.owing, 0);
  const owing = [...owed];
  return (
    <Choices label="Talk">
      <Choice
        chosen={lens.discussed}
        title="Changes that have a comment, or stand on commented words"
        onChoose={() => narrow(({ discussed }) => ({ discussed: !discussed }))}
      >
        discussed
      </Choice>
      <Choice
        chosen={lens.naming !== null}
        title="Changes in whose discussion your name stands"
        onChoose={() => narrow(({ naming }) => ({ naming: naming === null ? me.id : null }))}
      >
        naming{' '}
        {lens.naming === null || lens.naming === me.id ? 'me' : info.people.find((p) => p.id === lens.naming)?.name}
      </Choice>
      {owing.map(([id, n]) => (
        <Choice
          key={id}
          chosen={lens.owing === id}
          title="Where an answer is waited for"
          onChoose={() => narrow(({ owing }) => ({ owing: owing === id ? null : id }))}
        >
          {id === me.id ? 'you owe' : `${nameIn(info, id)} owes`} answers
          <span className="lens-count">{n}</span>
        </Choice>
      ))}
      {lens.alike !== null && (
        <Choice chosen title="Only changes that are the same edit" onChoose={() => narrow({ alike: null })}>
          alike to one
        </Choice>
      )}
    </Choices>
  );
}

function LensChoices({ onDone }: { onDone(): void }) {
  const { lens, setLens } = useLooking();
  const narrow: Narrow = (part) => setLens((now) => ({ ...now, ...(typeof part === 'function' ? part(now) : part) }));
  return (
    <>
      <ChangeChoices narrow={narrow} />
      <PlaceChoices narrow={narrow} />
      <TalkChoices narrow={narrow} />
      <Kept />
      <Box sx={{ display: 'flex', mt: 1, gap: 1 }}>
        <Button
          color="inherit"
          disabled={isEverything(lens)}
          onClick={() => setLens(everything)}
          sx={{ color: 'text.secondary', ml: -1.5 }}
        >
          Look at everything
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={onDone}>
          Done
        </Button>
      </Box>
    </>
  );
}

/** Lenses kept under names, and keeping this one. */
function Kept() {
  const { info, me } = useOpened();
  const { lens, setLens, lenses: kept, setLenses } = useLooking();
  const [name, setName] = useState('');
  const query = lensToQuery(lens);
  const keep = () => {
    setLenses([
      ...kept.filter((one) => one.name !== name.trim()),
      { name: name.trim(), query: lensToQuery(lensNow()) },
    ]);
    setName('');
  };
  return (
    <Box sx={{ mt: 1, pt: 1, borderTop: '1px solid', borderColor: 'divider' }}>
      {kept.length > 0 && (
        <Choices label="Kept">
          {kept.map((one) => (
            <Box key={one.name} sx={{ display: 'flex', alignItems: 'center' }}>
              <Choice
                chosen={one.query === query}
                title={lensWords(lensFromQuery(one.query), info, me.id)}
                onChoose={() => setLens(lensFromQuery(one.query))}
              >
                {one.name}
              </Choice>
              <IconButton
                size="small"
                aria-label={`Forget the lens ${one.name}`}
                onClick={() => setLenses(kept.filter((other) => other !== one))}
                sx={{ fontSize: 14 }}
              >
                ×
              </IconButton>
            </Box>
          ))}
        </Choices>
      )}
      {!isEverything(lens) && !kept.some((one) => one.query === query) && (
        <Choices label="Keep it">
          <TextField
            size="small"
            value={name}
            placeholder="under a name"
            onChange={({ target }) => setName(target.value)}
            onKeyDown={(event) => event.key === 'Enter' && name.trim() && keep()}
            slotProps={{
              htmlInput: {
                'aria-label': 'A name for this lens',
                maxLength: 80,
                style: { padding: '4px 8px', fontSize: 13 },
              },
            }}
          />
          <Button color="inherit" disabled={!name.trim()} onClick={keep} sx={{ py: 0.25 }}>
            Keep
          </Button>
        </Choices>
      )}
    </Box>
  );
}
