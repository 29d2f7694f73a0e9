import { Transform } from 'prosemirror-transform';
import { useMemo } from 'react';
import { decide, fairReading, ledgerText, talkText, type Thread } from '@tea-pencil/core';
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

/** What is printed; null until what was decided is known. */
export function useJob(what: Printed, threads: readonly Thread[], how: HowPrinted): PrintJob | null {
  const { info, me, nameOf } = useOpened();
  const { ownHues } = useLooking();
  const { doc } = useDrawn();
  const { changes, inLens } = useReviewed();
  const { ledger, rows } = useLedgerRows(threads);
  const ready = what !== 'ledger' || !!ledger.data;
  const text = useMemo(() => {
    if (!ready) return null;
    if (what === 'clean') return fairReading(doc);
    if (what === 'talk') return talkText(info.title, threads, nameOf);
    if (what === 'ledger')
      return ledgerText(
        info.title,
        sortRows(rows, 'place', false, info).map((row) => ({
          number: row.number,
          heading: row.seen.whereabouts.heading,
          said: row.said,
          sentence: sentenceOf(row, doc),
          author: row.seen.author,
          date: row.seen.date,
          state: stateWords(row, info, me.id),
        })),
        nameOf,
      );
    // What the lens leaves out is printed as the fair text has it.
    const seen = new Set(inLens.map(({ id }) => id));
    const outside = changes.filter(({ id }) => !seen.has(id)).map(({ id }) => id);
    return outside.length ? decide(new Transform(doc), outside, 'accept').doc : doc;
  }, [ready, what, doc, threads, rows, changes, inLens, info, me.id, nameOf]);
  return useMemo(() => {
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
      threads: what === 'marked' ? [...threads] : [],
      pictures,
      how: what === 'marked' ? how : { ...how, notes: 'none' },
    };
  }, [text, info, what, threads, how, ownHues]);
}
