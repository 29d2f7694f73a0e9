import { keys } from '../api/keys';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { anchors, foundAgain, type Change, type Range, type Thread } from '@tea-pencil/core';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { inReading, readingOf } from '../reviewing/readings';

/** Where threads are in the text as it is shown. */
export interface ThreadPlaces {
  places: ReadonlyMap<string, readonly Range[]>;
  /** Those whose words have gone. */
  lost: ReadonlySet<string>;
}

const top: Range[] = [{ from: 0, to: 0 }];

/**
 * Where each thread is: on its words, on the change it is about, at the place it has, or at the top, if it is about the
 * whole. The one whose words have just gone stays where it was until the server says where that is.
 */
export function useThreadPlaces(threads: readonly Thread[], changes: readonly Change[]): ThreadPlaces {
  const { text } = useOpened();
  const { reading } = useLooking().look;
  const { doc } = useDrawn();
  const shownDoc = readingOf(doc, reading);
  const queries = useQueryClient();
  const [known] = useState(() => new Map<string, readonly Range[]>());
  const found = useMemo(() => {
    const fastened = anchors(doc);
    const shown = shownDoc === doc ? fastened : anchors(shownDoc);
    const byChange = new Map<string, Change>();
    if (threads.some(({ change }) => change !== undefined)) for (const one of changes) byChange.set(one.id, one);
    const places = new Map<string, readonly Range[]>();
    const lost = new Set<string>();
    let behind = false;
    const { size } = doc.content;
    const inShown = ({ from, to }: Range): Range[] => {
      const [a, b] = [Math.min(from, size), Math.min(to, size)];
      return [{ from: inReading(doc, a, reading), to: inReading(doc, b, reading) }];
    };
    for (const thread of threads) {
      const { id, change, whole, place, toSelf, quote } = thread;
      const ofChange = change !== undefined && byChange.get(change);
      if (whole) places.set(id, top);
      else if (ofChange)
        places.set(
          id,
          reading === 'marked' ? ofChange.ranges : inShown({ ...ofChange.ranges[0]!, to: ofChange.ranges[0]!.from }),
        );
      else if (shown.has(id)) places.set(id, shown.get(id)!);
      else if (fastened.has(id)) {
        const [first] = fastened.get(id)!;
        places.set(id, inShown({ from: first!.from, to: first!.from }));
      } else {
        const brought = place && text.places.bringHere(place);
        const here = brought && toSelf ? foundAgain(doc, brought, quote) : brought;
        if (place && !here) behind = true;
        const at = here ?? place ?? known.get(id)?.[0];
        places.set(id, at ? inShown(at) : top);
        if (change === undefined && (!at || at.from === at.to || !toSelf)) lost.add(id);
      }
    }
    return { places, lost, behind };
  }, [text, doc, shownDoc, reading, threads, changes, known]);

  useEffect(() => {
    if (reading !== 'marked') return;
    for (const [id, ranges] of found.places) known.set(id, ranges);
  }, [found, known, reading]);

  // A place that cannot be brought forward is asked for anew.
  useEffect(() => {
    if (found.behind) void queries.invalidateQueries({ queryKey: keys.threads(text.manuscript) });
  }, [found.behind, queries, text.manuscript]);

  return found;
}
