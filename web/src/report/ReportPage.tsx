import { Button, Checkbox, FormControlLabel, LinearProgress } from '@mui/material';
import { useMemo, useState } from 'react';
import { isEverything, kinds, praises, remarkText, reportOf, type FormatName, type Thread } from '@tea-pencil/core';
import { keepFile } from '../api/client';
import { whoIs } from '../api/queries';
import { Blocks } from '../drafts/Blocks';
import { countedRow } from '../figures/counted';
import { Message } from '../kit/Message';
import { Section } from '../kit/Section';
import { EndTabs } from '../last-look/EndTabs';
import { sentenceOf } from '../ledger/rows';
import { useLedgerRows } from '../ledger/use-ledger-rows';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { lensWords } from '../reviewing/words';

const offered: readonly FormatName[] = ['docx', 'odt', 'html'];

/** What may be praise: whatever asks and proposes nothing. */
const mayPraise = ({ toSelf, comments, tint }: Thread): boolean =>
  !toSelf && comments.every(({ query, proposal }) => !query && !proposal) && (comments.length > 0 || !!tint);

/** A report of the lens, as a text of its own; null until what was decided is known. */
function useReport(threads: readonly Thread[], praise: ReadonlySet<string>) {
  const { info, nameOf } = useOpened();
  const { doc } = useDrawn();
  const { ledger, rows } = useLedgerRows(threads);
  const report = useMemo(() => {
    if (!ledger.data) return null;
    return reportOf({
      title: info.title,
      date: new Date().toISOString(),
      changes: rows.map((row) => ({
        ...countedRow(row),
        objects: row.pending?.objects ?? row.decided?.objects ?? [],
        sentence: sentenceOf(row, doc),
      })),
      ...{ threads, praise, nameOf },
      is: (author) => whoIs(info, author),
    });
  }, [ledger.data, rows, doc, threads, praise, info, nameOf]);
  return { report, ledger };
}

/** One page about the text, to hand to whoever wrote it. */
export default function ReportPage({ threads }: { threads: readonly Thread[] }) {
  const { info, me, may, nameOf, say } = useOpened();
  const { lens } = useLooking();
  const candidates = useMemo(() => threads.filter(mayPraise), [threads]);
  // What was ticked or not by hand; the others go by their highlight.
  const [ticked, setTicked] = useState<ReadonlyMap<string, boolean>>(new Map());
  const praise = useMemo(
    () => new Set(candidates.filter((one) => ticked.get(one.id) ?? praises(one)).map(({ id }) => id)),
    [candidates, ticked],
  );
  const { report, ledger } = useReport(threads, praise);
  const blocks = useMemo(() => report?.children.map((block) => block.toJSON() as object) ?? [], [report]);
  if (ledger.isError)
    return (
      <Message title="The report cannot be made" text={ledger.error.message} again={() => void ledger.refetch()} />
    );
  if (!report) return <LinearProgress aria-label="The report is being made" />;
  const take = async (name: FormatName) => {
    try {
      const { formats } = await import('./formats');
      const { write, type, endings } = formats[name];
      const bytes = await write({ doc: report, people: [], threads: [], assets: [] });
      const title = info.title.replace(/[\\/:*?"<>|]/g, '-');
      keepFile(`${title} (report).${endings[0]}`, new Blob([bytes as BlobPart], { type }));
    } catch {
      say('The report could not be written. Nothing was changed.');
    }
  };
  return (
    <main className="parts">
      <h1 className="heard-only">Report on “{info.title}”</h1>
      <div className="parts-columns">
        <div>
          <EndTabs />
          <article className="report-sheet" aria-label="The report">
            <Blocks blocks={blocks} />
          </article>
        </div>
        <div className="report-side">
          <Section
            title="Hand it over"
            says={
              isEverything(lens)
                ? 'It tells of all changes. A lens narrows it, say to one person’s.'
                : `It tells of this lens: ${lensWords(lens, info, me.id)}.`
            }
          >
            {may.takeAway &&
              offered.map((name) => (
                <Button
                  key={name}
                  variant={name === 'docx' ? 'contained' : 'outlined'}
                  color={name === 'docx' ? 'primary' : 'inherit'}
                  onClick={() => void take(name)}
                  sx={{ mr: 1 }}
                >
                  {kinds[name].title}
                </Button>
              ))}
            <Button variant="outlined" color="inherit" onClick={() => window.print()}>
              Print
            </Button>
          </Section>
          <Section
            title="What is praised"
            says="What is highlighted in sage stands in the report as well done. Tick what else belongs there."
          >
            {!candidates.length && <p className="look-said">Nobody has highlighted or said anything that could.</p>}
            {candidates.map((thread) => (
              <FormControlLabel
                key={thread.id}
                className="report-praise"
                control={
                  <Checkbox
                    size="small"
                    checked={praise.has(thread.id)}
                    onChange={(_, on) => setTicked(new Map([...ticked, [thread.id, on]]))}
                  />
                }
                label={<Praise thread={thread} nameOf={nameOf} />}
              />
            ))}
          </Section>
        </div>
      </div>
    </main>
  );
}

function Praise({ thread, nameOf }: { thread: Thread; nameOf(person: string): string }) {
  const { quote, author, comments } = thread;
  const said = comments.map(({ body }) => remarkText(body, nameOf)).join(' ');
  return (
    <>
      <span className={thread.tint ? `tint-choice tint-${thread.tint}` : ''} /> {quote && `“${quote.slice(0, 80)}” `}
      <span className="second">
        {nameOf(author)}
        {said && `: ${said.slice(0, 140)}`}
      </span>
    </>
  );
}
