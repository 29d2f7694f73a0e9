import { Button, Checkbox, FormControlLabel, LinearProgress, MenuItem, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { counted, kinds, remainingOf, runsOrReachesOutside, type FormatName, type Thread } from '@tea-pencil/core';
import { makeFairCopy } from '../api/fair-copy';
import { keys } from '../api/keys';
import { Section } from '../kit/Section';
import { useStillHere } from '../kit/use-still-here';
import { useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { FateLines } from './FateLines';
import { useTakingBack } from './use-taking-back';
import { chosenOf, countFates, type Fates } from './fates';

const holding = Object.values(kinds).filter(({ holds }) => holds.changes);

/** What goes into each of both files, as sentences. */
function outcome(fates: ReturnType<typeof countFates>, threads: readonly Thread[]): string[] {
  const { accept, reject, keep } = fates;
  const decided = [accept && `${accept.toLocaleString()} accepted`, reject && `${reject.toLocaleString()} rejected`];
  const act = decided.filter(Boolean).join(' and ');
  const others = threads.filter(({ toSelf }) => !toSelf);
  return [
    act ? `You decide ${counted(accept + reject, 'change')}: ${act}.` : 'Nothing is decided.',
    `The clean file holds no change, no comment and nobody’s name beside them${keep ? `; it reads as if the ${counted(keep, 'change')} that ${keep === 1 ? 'stays' : 'stay'} pending were accepted` : ''}. It is read again before it is kept.`,
    `The marked copy holds ${keep ? counted(keep, 'pending change') : 'no change'} and ${others.length ? counted(others.length, 'thread') : 'no thread'}.`,
  ];
}

/** Choosing what becomes of what is pending, and making the fair copy. */
export function Making({ threads }: { threads: readonly Thread[] }) {
  const { info, say, sayDone } = useOpened();
  const isHere = useStillHere();
  const takeBack = useTakingBack();
  const { changes } = useReviewed();
  const queries = useQueryClient();
  const usual = info.cameAs && kinds[info.cameAs].holds.changes ? info.cameAs : 'docx';
  const [format, setFormat] = useState<FormatName>(usual);
  const [nameless, setNameless] = useState(true);
  const [inert, setInert] = useState(true);
  const active = info.carried.filter(({ where }) => where === runsOrReachesOutside);
  const [fates, setFates] = useState<Fates>(new Map());
  const [making, setMaking] = useState(false);
  const [refusal, setRefusal] = useState('');
  const stop = useRef<AbortController | null>(null);
  const remaining = useMemo(() => remainingOf(changes), [changes]);
  const chosen = useMemo(() => chosenOf(remaining, fates), [remaining, fates]);
  const make = async () => {
    stop.current = new AbortController();
    setMaking(true);
    setRefusal('');
    try {
      const { id } = await makeFairCopy(info.id, { chosen, format, nameless, inert }, stop.current.signal);
      setFates(new Map());
      await queries.invalidateQueries({ queryKey: keys.drafts(info.id) });
      sayDone('The fair copy is made.', () => void takeBack(id));
    } catch (problem) {
      const { message } = problem as Error;
      setRefusal(message);
      if (!isHere()) say(message);
    }
    setMaking(false);
  };
  return (
    <>
      {remaining.length > 0 && (
        <Section title="What becomes of what is pending">
          <FateLines remaining={remaining} chosen={fates} onChoose={setFates} />
        </Section>
      )}
      <Section title="Make the fair copy">
        <ul className="fair-copy-says">
          {outcome(countFates(chosen), threads).map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
        <div className="fair-copy-how">
          <TextField
            select
            size="small"
            label="As"
            value={format}
            onChange={({ target }) => setFormat(target.value as FormatName)}
            sx={{ minWidth: 180 }}
          >
            {holding.map(({ name, title }) => (
              <MenuItem key={name} value={name}>
                {title}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            control={<Checkbox checked={nameless} onChange={(_, checked) => setNameless(checked)} />}
            label="Beside changes and comments the files name nobody: properties, data in pictures, editing sessions"
          />
          <FormControlLabel
            control={<Checkbox checked={inert} onChange={(_, checked) => setInert(checked)} />}
            label="Nothing in the files runs or is fetched from elsewhere"
          />
        </div>
        {active.length > 0 && (
          <p className="second">
            The file it came from holds {active.map(({ what, howMany }) => counted(howMany, what)).join(', ')}.{' '}
            {inert ? 'The copies leave that out.' : 'The copies hold that too.'}
          </p>
        )}
        {refusal && (
          <p role="alert" className="look-problem">
            {refusal}
          </p>
        )}
        {/* It stays where it is while it works, and the keyboard on it. */}
        <Button
          variant="contained"
          aria-disabled={making}
          onClick={() => {
            if (!making) void make();
          }}
        >
          Make the fair copy
        </Button>
        {making && (
          <div role="status">
            <LinearProgress aria-label="The fair copy is being made" sx={{ my: 1 }} />
            The files are written and read again …{' '}
            <Button color="inherit" size="small" onClick={() => stop.current?.abort()}>
              Stop
            </Button>
          </div>
        )}
      </Section>
    </>
  );
}
