import { useMemo } from 'react';
import { figuresOf, medianWait, wordCounts, type Kept, type Figure, type Thread, type Worked } from '@tea-pencil/core';
import type { Drafts, TimeLine } from '@tea-pencil/wire';
import { useDrafts, useTimeLine } from '../api/drafts';
import { whoIs } from '../api/queries';
import { useLedgerRows } from '../ledger/use-ledger-rows';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { countedRow } from './counted';

/** What was done to the text, by whoever is wanted. */
const workedBy = ({ from, stretches }: TimeLine, wanted: (author: string | null) => boolean): Worked[] =>
  stretches
    .filter(({ author }) => wanted(author))
    .map(({ at, intent, come, gone }) => ({
      at: new Date(Date.parse(from) + at).toISOString(),
      ...{ intent, come, gone },
    }));

/** How the text was when each draft was kept, as far as that is counted. */
const keptIn = ({ drafts }: Drafts): Kept[] =>
  drafts.flatMap(({ at, facts }) => (facts ? [{ at, words: facts.words, pending: facts.pending }] : []));

/** The figures of the lens; null until all they are made of is here. */
export function useFigures(threads: readonly Thread[]) {
  const { info, nameOf } = useOpened();
  const { lens } = useLooking();
  const { doc } = useDrawn();
  const { ledger, rows } = useLedgerRows(threads);
  const line = useTimeLine(info.id);
  const drafts = useDrafts(info.id);
  const { changes: pending } = useReviewed();
  const made = useMemo((): { figures: Figure[]; many: number; middle: number | null } | null => {
    if (!ledger.data || !line.data || !drafts.data) return null;
    const authors = new Set(lens.authors.map((author) => whoIs(info, author)));
    // In the order of the text, so that sections come as one reads them.
    const changes = [...rows].sort((a, b) => a.at - b.at).map(countedRow);
    const figures = figuresOf({
      changes,
      threads,
      worked: workedBy(line.data, (author) => !authors.size || (author !== null && authors.has(whoIs(info, author)))),
      kept: [
        ...keptIn(drafts.data),
        { at: new Date().toISOString(), words: wordCounts(doc, 0, 0).text, pending: pending.length },
      ],
      is: (author) => whoIs(info, author),
      nameOf,
    });
    return { figures, many: changes.length, middle: medianWait(changes) };
  }, [ledger.data, line.data, drafts.data, pending, rows, threads, doc, lens, info, nameOf]);
  return {
    made,
    problem: ledger.error ?? line.error ?? drafts.error,
    again: () => void Promise.all([ledger.refetch(), line.refetch(), drafts.refetch()]),
  };
}
