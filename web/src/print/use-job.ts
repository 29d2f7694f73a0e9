import { Transform } from 'prosemirror-transform';
import { useMemo, useState } from 'react';
import { decide, fairReading, ledgerText, lensToQuery, talkText, type Thread } from '@tea-pencil/core';
import { pictureAddress } from '../api/client';
import { sentenceOf, sortRows, stateWords } from '../ledger/rows';
import { useLedgerRows } from '../ledger/use-ledger-rows';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import type { HowPrinted, Printed, PrintJob } from '@tea-pencil/wire';
import { useReviewed } from '../reviewing/use-reviewing';

/** What can be printed. */
export const printed = {
  clean: ['Clean', 'The fair reading, without marks'],
  marked: ['Marked', 'With the changes of the lens, and what is said of them'],
  ledger: ['Ledger', 'Every change of the lens, as a table'],
  talk: ['Threads', 'Every thread of the lens, open ones first'],
} as const satisfies Record<Printed, readonly [name: string, says: string]>;

/** What is printed is the text of one moment: pages that were set anew at each letter of others would never be there. */
function useMoment(threads: readonly Thread[], asked: string) {
  const { doc } = useDrawn();
  const { changes, inLens } = useReviewed();
  const { ledger, rows } = useLedgerRows(threads);
  const now = { doc, changes, inLens, rows, threads };
  const [moment, setMoment] = useState(now);
  const key = `${asked} ${ledger.isSuccess}`;
  const [taken, setTaken] = useState(key);
  if (taken !== key) {
    setTaken(key);
    setMoment(now);
  }
  return { moment, known: ledger.isSuccess, isOld: moment.doc !== doc, anew: () => setMoment(now) };
}

/** What is printed; null until what was decided is known. `anew` takes the text as it is now, where it has changed. */
export function useJob(what: Printed, threads: readonly Thread[], how: HowPrinted) {
  const { info, nameOf } = useOpened();
  const { ownHues, lens } = useLooking();
  const { moment, known, isOld, anew } = useMoment(threads, `${what} ${lensToQuery(lens)}`);
  const ready = what !== 'ledger' || known;
  const text = useMemo(() => {
    const { doc, changes, inLens, rows, threads: talk } = moment;
    if (!ready) return null;
    if (what === 'clean') return fairReading(doc);
    if (what === 'talk') return talkText(info.title, doc, talk, nameOf);
    if (what === 'ledger')
      return ledgerText(
        info.title,
        sortRows(rows, 'place', false, info).map((row) => ({
          number: row.number,
          said: row.said,
          sentence: sentenceOf(row, doc),
          author: row.seen.author,
          date: row.seen.date,
          // On paper nobody is “you”.
          state: stateWords(row, info, ''),
        })),
        nameOf,
      );
    // What the lens leaves out is printed as the fair text has it.
    const seen = new Set(inLens.map(({ id }) => id));
    const outside = changes.filter(({ id }) => !seen.has(id)).map(({ id }) => id);
    return outside.length ? decide(new Transform(doc), outside, 'accept').doc : doc;
  }, [ready, what, moment, info, nameOf]);
  const job = useMemo((): PrintJob | null => {
    if (!text) return null;
    const pictures: Record<string, string> = {};
    text.descendants(({ attrs }) => {
      const asset: unknown = attrs.asset;
      if (typeof asset === 'string') pictures[asset] = pictureAddress(asset);
    });
    return {
      title: info.title,
      kind: printed[what][0].toLowerCase(),
      language: info.language,
      doc: text.toJSON() as object,
      people: info.people.map(({ id, name, initials, hue }) => ({
        ...{ id, name, initials },
        hue: ownHues.people[id] ?? hue,
      })),
      threads: what === 'marked' ? [...moment.threads] : [],
      pictures,
      how: what === 'marked' ? how : { ...how, notes: 'none' },
    };
  }, [text, info, what, moment, how, ownHues]);
  return { job, isOld, anew };
}
