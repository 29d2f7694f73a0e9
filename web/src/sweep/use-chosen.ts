import { useState } from 'react';
import { placesOf } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import { useOpened } from '../opened/opened';
import type { Search } from './use-search';

/** Which of the places found are looked at and left out, by their numbers. */
interface Chosen {
  left: ReadonlySet<number>;
  current: number;
}
const none: Chosen = { left: new Set(), current: 0 };

/** The same places once the text has been looked through again: others may have written above them. */
function carried(text: LiveText, { left, current }: Chosen, was: Search, found: Search): Chosen {
  if (!was.doc || !found.doc || was.doc === found.doc) return { left, current };
  const numbers = new Map(placesOf(found.doc, found.hits).map(([first], i) => [first?.from, i]));
  const chosen = [...left, current].map((i) => was.hits[i]);
  const there = chosen.map((hit) => (hit ? [hit] : []));
  const places = text.placesSince(there.flat(), was.doc, found.doc);
  let next = 0;
  const now = there.map((hit) => (hit.length ? numbers.get(places[next++]![0]?.from) : undefined));
  return { left: new Set(now.slice(0, -1).filter((i) => i !== undefined)), current: now.at(-1) ?? current };
}

/** Choosing among what is found: it stays chosen, and left out, while others write. */
export function useChosen(found: Search) {
  const { text } = useOpened();
  const [known, setKnown] = useState(found);
  const [chosen, setChosen] = useState(none);
  let now = chosen;
  if (known.hits !== found.hits) {
    if (chosen.left.size || chosen.current) setChosen((now = carried(text, chosen, known, found)));
    setKnown(found);
  }
  return {
    left: now.left,
    current: Math.min(now.current, found.hits.length - 1),
    lookAt: (current: number) => setChosen((before) => ({ ...before, current })),
    toggle: (i: number) =>
      setChosen(({ left, current }) => {
        const next = new Set(left);
        if (!next.delete(i)) next.add(i);
        return { left: next, current };
      }),
    begin: () => setChosen(none),
  };
}
