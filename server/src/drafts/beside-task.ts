import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import {
  beforeReading,
  beside,
  composed,
  countWords,
  differencesIn,
  fairReading,
  listChanges,
  noDate,
  plainText,
  revised,
  withoutAnchors,
  type Difference,
  type Ranges,
} from '@tea-pencil/core';
import type { BesideRow, DraftDifference, How, SideBySide } from '@tea-pencil/wire';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';

/** Lays two drafts of a manuscript beside each other, and says of each difference who made it and how. */

export interface ToLayBeside {
  manuscript: string;
  before: number;
  after: number;
  reading: 'fair' | 'before';
}

/** A place that was edited, in the text as it was then. */
interface Edited {
  from: number;
  to: number;
  author: string | null;
  intent: string;
}

interface Logged {
  ranges: Ranges;
  author: string | null;
  intent: string;
}

/** Steps that follow one another by the same hand as one. */
function inOneGo(steps: readonly Logged[]): Logged[] {
  const runs: { all: Ranges[]; author: string | null; intent: string }[] = [];
  for (const { ranges, author, intent } of steps) {
    const last = runs.at(-1);
    if (last?.author === author && last.intent === intent) last.all.push(ranges);
    else runs.push({ all: [ranges], author, intent });
  }
  return runs.map(({ all, ...by }) => ({ ranges: composed(all), ...by }));
}

/** What is left of places once ranges of the text have been replaced, and the places of those replacements; both in order. */
function replaced(places: readonly Edited[], { ranges, author, intent }: Logged): Edited[] {
  const found: Edited[] = [];
  let shift = 0;
  let next = 0;
  let waiting = places[next];
  const put = (from: number, to: number, { author: by, intent: how }: Omit<Logged, 'ranges'>) =>
    found.push({ from: from + shift, to: to + shift, author: by, intent: how });
  for (let i = 0; i < ranges.length; i += 3) {
    const [from, gone, come] = [ranges[i]!, ranges[i + 1]!, ranges[i + 2]!];
    const end = from + gone;
    // What lies before it stays, what it covers goes, what is left behind it waits for the next.
    for (; waiting && waiting.from <= end; waiting = waiting.to > end ? { ...waiting, from: end } : places[++next]) {
      if (waiting.from < from) put(waiting.from, Math.min(waiting.to, from), waiting);
      if (waiting.from === end && waiting.to > end) break;
    }
    put(from, from + come, { author, intent });
    shift += come - gone;
  }
  for (; waiting; waiting = places[++next]) put(waiting.from, waiting.to, waiting);
  return found;
}

/** Where the steps between two versions put something in or took something out, in the text that they lead to. */
export const editedBy = (steps: readonly Logged[]): Edited[] =>
  inOneGo(steps).reduce<Edited[]>((places, run) => replaced(places, run), []);

/** How a difference came about: by what is pending there, else by the edits that touched its place. */
function attributed(difference: Difference, edited: readonly Edited[]): { author: string | null; how: How } {
  const { from, to, pending, near } = difference;
  if (pending[0]) return { author: pending[0].author, how: 'pencil' };
  // The edits stand in order.
  let low = 0;
  let high = edited.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (edited[middle]!.to < from) low = middle + 1;
    else high = middle;
  }
  const here: Edited[] = [];
  for (let i = low; i < edited.length && edited[i]!.from <= to; i++) here.push(edited[i]!);
  const of = (intent: string) => here.find((edit) => edit.intent === intent);
  const ink = of('ink');
  if (ink) return { author: ink.author, how: 'ink' };
  const recorded = of('pencil') ?? of('decision') ?? near[0];
  return { author: recorded?.author ?? null, how: recorded ? 'pencil' : null };
}

const jsonOf = (nodes: readonly Node[]) => nodes.map((node) => node.toJSON() as object);

export async function layBeside({ manuscript, before, after, reading }: ToLayBeside): Promise<SideBySide> {
  const read = reading === 'fair' ? fairReading : beforeReading;
  const [was, now] = [await pastText(ask, manuscript, before), await pastText(ask, manuscript, after)];
  const [one, other] = [withoutAnchors(read(was)), withoutAnchors(read(now))];
  const collated = revised(one, other, { author: 'nobody', date: noDate, newChange: () => nanoid(12) });
  const steps = await ask<Logged>(
    `SELECT ranges, author, intent FROM steps
     WHERE manuscript_id = $1 AND version >= $2 AND version < $3 AND ranges <> '{}' ORDER BY version`,
    [manuscript, before, after],
  );
  const edited = editedBy(steps);
  const places = new Map(
    reading === 'fair' ? differencesIn(collated, now).map((place) => [place.change, place] as const) : [],
  );
  const differences = listChanges(collated).map(({ id, kind }): DraftDifference => {
    const place = places.get(id);
    return { change: id, kind, ...(place ? attributed(place, edited) : { author: null, how: null }) };
  });
  const rows = beside(collated).map((row): BesideRow =>
    row.changes.length
      ? { before: jsonOf(row.before), after: jsonOf(row.after), changes: row.changes }
      : { same: jsonOf(row.after) },
  );
  return {
    before: { version: before, words: countWords(plainText(one)) },
    after: { version: after, words: countWords(plainText(other)) },
    rows,
    differences,
  };
}
