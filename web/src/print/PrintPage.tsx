import { Button, Checkbox, FormControlLabel, LinearProgress, MenuItem, TextField, Tooltip } from '@mui/material';
import { useState } from 'react';
import { useLocation } from 'react-router';
import { counted, isEverything, type Thread } from '@tea-pencil/core';
import { Choice, Choices } from '../kit/Choice';
import { EndTabs } from '../last-look/EndTabs';
import { useLooking, useOpened } from '../opened/opened';
import type { HowPrinted, Notes, Papers, Printed } from '@tea-pencil/wire';
import { fetchFile } from '../api/client';
import { papers, usualPrint } from '../pages/job';
import { StillInside } from '../reviewing/StillInside';
import { useReviewed } from '../reviewing/use-reviewing';
import { lensWords } from '../reviewing/words';
import { printed, useJob } from './use-job';
import { usePages } from './use-pages';

const noteWords: Readonly<Record<Notes, [name: string, says: string]>> = {
  none: ['on the words', 'Marks and initials on the words, nothing besides'],
  foot: ['at the foot', 'Numbered notes at the foot of the page, with what is said about each'],
  side: ['beside the lines', 'Numbered notes in a wide margin, with what is said about each'],
};

/** The text on pages as they are printed, and how. */
export default function PrintPage({ threads }: { threads: readonly Thread[] }) {
  const { info, me, may } = useOpened();
  const { lens } = useLooking();
  const { changes, inLens } = useReviewed();
  const [what, setWhat] = useState<Printed>('clean');
  const [how, setHow] = useState<HowPrinted>(usualPrint);
  const change = (more: Partial<HowPrinted>) => setHow((now) => ({ ...now, ...more }));
  const { job, isOld, anew } = useJob(what, threads, how);
  const { place, pages, done, stopped, problem, stop } = usePages(job);
  const outside = changes.length - inLens.length;
  return (
    <main className="print">
      <h1 className="heard-only">Print “{info.title}”</h1>
      <div className="print-choices">
        <EndTabs />
        <Choices label="What">
          {(Object.keys(printed) as Printed[]).map((one) => (
            <Choice key={one} chosen={one === what} title={printed[one][1]} onChoose={() => setWhat(one)}>
              {printed[one][0]}
            </Choice>
          ))}
        </Choices>
        {what === 'marked' && (
          <>
            <Choices label="Notes">
              {(Object.keys(noteWords) as Notes[]).map((one) => (
                <Choice
                  key={one}
                  chosen={one === how.notes}
                  title={noteWords[one][1]}
                  onChoose={() => change({ notes: one })}
                >
                  {noteWords[one][0]}
                </Choice>
              ))}
            </Choices>
            <FormControlLabel
              control={<Checkbox checked={how.hues} onChange={(_, hues) => change({ hues })} />}
              label="In the hues of the people"
            />
          </>
        )}
        <TextField
          select
          size="small"
          label="Paper"
          value={how.paper}
          onChange={({ target }) => change({ paper: target.value as Papers })}
          sx={{ mt: 1, mb: 0.5, bgcolor: 'background.paper' }}
        >
          {(Object.keys(papers) as Papers[]).map((one) => (
            <MenuItem key={one} value={one}>
              {papers[one].title}
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          control={<Checkbox checked={how.large} onChange={(_, large) => change({ large })} />}
          label="Large print"
        />
        <FormControlLabel
          control={<Checkbox checked={how.lineNumbers} onChange={(_, lineNumbers) => change({ lineNumbers })} />}
          label="Numbers of lines, to speak of them"
        />
        <Inside what={what} />
        {what !== 'clean' && !isEverything(lens) && (
          <p className="part-says" role="note">
            Of this lens: {lensWords(lens, info, me.id)}.
            {may.takeAway && ' The server makes a PDF of everything only; your browser keeps these pages as one.'}
            {what === 'marked' && outside > 0 && ` ${counted(outside, 'change')} outside it printed as if accepted.`}
          </p>
        )}
        <div role="status" className="print-state">
          {problem ?? (pages !== null ? counted(pages, 'page') : stopped ? 'Stopped.' : 'The pages are being set …')}
          {pages === null && !stopped && !problem && (
            <>
              {done > 0 && ` ${done}`}
              <LinearProgress aria-label="The pages are being set" sx={{ my: 1 }} />
              <Button size="small" color="inherit" onClick={stop}>
                Stop
              </Button>
            </>
          )}
        </div>
        {isOld && (
          <p className="part-says" role="note">
            The text has changed since.{' '}
            <Button size="small" color="inherit" onClick={anew}>
              Set the pages anew
            </Button>
          </p>
        )}
        <div className="print-acts">
          <Button variant="contained" disabled={pages === null} onClick={() => window.print()}>
            Print
          </Button>
          {may.takeAway && (what === 'clean' || isEverything(lens)) && <TakePdf what={what} how={how} />}
        </div>
      </div>
      <div className="print-pages" tabIndex={0} role="region" aria-label="The pages">
        <div ref={place} />
      </div>
    </main>
  );
}

/** The same pages as a file: tagged, with an outline, made by the server. */
function TakePdf({ what, how }: { what: Printed; how: HowPrinted }) {
  const { info, say } = useOpened();
  const { search } = useLocation();
  const [stop, setStop] = useState<AbortController | null>(null);
  const take = async () => {
    const stopper = new AbortController();
    setStop(stopper);
    const query = new URLSearchParams(search);
    for (const [name, value] of Object.entries(how)) query.set(name, String(value));
    try {
      await fetchFile(`/manuscripts/${info.id}/pages/${what}?${query.toString()}`, stopper.signal);
    } catch (problem) {
      say((problem as Error).message);
    }
    setStop(null);
  };
  return stop ? (
    <span role="status">
      The PDF is being made …{' '}
      <Button size="small" color="inherit" onClick={() => stop.abort()}>
        Stop
      </Button>
    </span>
  ) : (
    <Tooltip title="A tagged PDF with an outline, made by the server">
      <Button variant="outlined" color="inherit" onClick={() => void take()}>
        PDF
      </Button>
    </Tooltip>
  );
}

/** What whoever gets the paper finds on it. */
function Inside({ what }: { what: Printed }) {
  const { changes } = useReviewed();
  if (what === 'marked') return <StillInside who="Who reads it" />;
  if (what !== 'clean' || !changes.length) return null;
  return (
    <p className="part-says" role="note">
      {counted(changes.length, 'change')} still pending {changes.length === 1 ? 'is' : 'are'} read as accepted; nothing
      on the paper tells of {changes.length === 1 ? 'it' : 'them'}.
    </p>
  );
}
