import { changeKinds, type Change } from '../changes/list.js';
import type { PersonId } from '../manuscript/people.js';
import type { Thread } from '../manuscript/threads.js';
import { countChanges } from './counts.js';

/** Counts about a text, each as a table that can be read, drawn and taken away. */

/** What has become of a change: it is pending, decided, or went with the words of another. */
export const states = ['pending', 'accepted', 'rejected', 'gone'] as const;
export type State = (typeof states)[number];

/** A change, pending or not, as far as it is counted. */
export interface Counted extends Pick<Change, 'author' | 'kind' | 'date' | 'before' | 'after'> {
  /** The nearest heading at or above it. */
  heading: string | null;
  state: State;
  /** ISO 8601, where it is decided. */
  decidedAt: string | null;
}

/** What somebody did to the text in one way in one stretch of time. */
export interface Worked {
  /** When it ended, ISO 8601. */
  at: string;
  intent: string;
  /** Letters that were put in and struck out. */
  come: number;
  gone: number;
}

/** How the text was at a moment: the words of its fair reading, and how many changes were pending. */
export interface Kept {
  /** ISO 8601. */
  at: string;
  words: number;
  pending: number;
}

export type FigureName =
  'authors' | 'kinds' | 'sections' | 'words' | 'verdicts' | 'work' | 'growth' | 'waiting' | 'talk';

/** A table of counts: a row for each name, a column for each series. */
export interface Figure {
  name: FigureName;
  columns: readonly string[];
  rows: readonly FigureRow[];
}
export interface FigureRow {
  name: string;
  /** Whose it is, where it is somebody’s. */
  person?: PersonId;
  /** When it ended, ISO 8601, where a row is a stretch of time. */
  at?: string;
  values: readonly number[];
}

/** What the figures are made of. */
export interface Material {
  changes: readonly Counted[];
  threads: readonly Thread[];
  /** In the order in which it was done. */
  worked: readonly Worked[];
  /** States of the text that are known. */
  kept: readonly Kept[];
  /** Under which id all that a person wrote is brought together, and how they are called. */
  is(author: PersonId): PersonId;
  nameOf(person: PersonId): string;
}

/** How each state is called at the head of a column. */
export const stateWords: Readonly<Record<State, string>> = {
  pending: 'to decide',
  accepted: 'accepted',
  rejected: 'rejected',
  gone: 'withdrawn or removed',
};

const beforeHeadings = 'Before the first heading';

/** How many changes of each state there are under each key, in the order in which the keys first come. */
function byState<K>(changes: readonly Counted[], keyOf: (change: Counted) => K): Map<K, number[]> {
  const groups = new Map<K, number[]>();
  for (const change of changes) {
    const key = keyOf(change);
    const counts = groups.get(key) ?? states.map(() => 0);
    counts[states.indexOf(change.state)]!++;
    groups.set(key, counts);
  }
  return groups;
}

const total = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0);
const mostFirst = (a: FigureRow, b: FigureRow) => total(b.values) - total(a.values);
const stateColumns = states.map((state) => stateWords[state]);

/** Whole hours in which something waited: the limits of the lines, each below the next. */
const waits: readonly [name: string, hours: number][] = [
  ['under an hour', 1],
  ['under a day', 24],
  ['under a week', 168],
  ['under a month', 720],
  ['longer', Infinity],
];

/** All figures of a text. Changes are counted one by one, whoever made how many of them in one go. */
export function figuresOf({ changes, threads, worked, kept, is, nameOf }: Material): Figure[] {
  const people = byState(changes, ({ author }) => is(author));
  const authors = [...people]
    .map(([person, values]): FigureRow => ({ name: nameOf(person), person, values }))
    .sort(mostFirst);
  const kinds = byState(changes, ({ kind }) => kind);
  const sections = byState(changes, ({ heading }) => heading);
  return [
    { name: 'authors', columns: stateColumns, rows: authors },
    {
      name: 'kinds',
      columns: stateColumns,
      rows: changeKinds.flatMap((kind) => {
        const values = kinds.get(kind);
        return values ? [{ name: kind, values }] : [];
      }),
    },
    {
      name: 'sections',
      columns: stateColumns,
      rows: [...sections].map(([heading, values]) => ({ name: heading ?? beforeHeadings, values })),
    },
    { name: 'words', columns: ['words in', 'words out'], rows: wordsBy(changes, is, nameOf) },
    {
      name: 'verdicts',
      columns: ['accepted', 'rejected'],
      rows: authors
        .map((row) => ({ ...row, values: row.values.slice(1, 3) }))
        .filter(({ values }) => total(values) > 0),
    },
    { name: 'work', columns: ['letters in', 'letters struck out'], rows: work(worked) },
    {
      name: 'growth',
      columns: ['words', 'changes to decide'],
      rows: [...kept]
        .sort((a, b) => (a.at < b.at ? -1 : 1))
        .map(({ at, words, pending }) => ({ name: at, at, values: [words, pending] })),
    },
    { name: 'waiting', columns: ['accepted', 'rejected'], rows: waited(changes) },
    {
      name: 'talk',
      columns: ['threads begun', 'answers', 'queries asked', 'queries answered'],
      rows: talk(threads, is, nameOf),
    },
  ];
}

/** The words that changes bring and take away, by whose they are: what is proposed, whatever became of it. */
function wordsBy(changes: readonly Counted[], is: Material['is'], nameOf: Material['nameOf']): FigureRow[] {
  const groups = new Map<PersonId, Counted[]>();
  for (const change of changes) {
    const person = is(change.author);
    const known = groups.get(person);
    if (known) known.push(change);
    else groups.set(person, [change]);
  }
  return [...groups]
    .map(([person, all]): FigureRow => {
      const { wordsAdded, wordsRemoved } = countChanges(all);
      return { name: nameOf(person), person, values: [wordsAdded, wordsRemoved] };
    })
    .sort(mostFirst);
}

/** What came and went in each stretch of time. */
function work(worked: readonly Worked[]): FigureRow[] {
  const stretches = new Map<string, { come: number; gone: number }>();
  for (const { at, come, gone } of worked) {
    const known = stretches.get(at) ?? { come: 0, gone: 0 };
    stretches.set(at, { come: known.come + come, gone: known.gone + gone });
  }
  return [...stretches]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([at, { come, gone }]) => ({ name: at, at, values: [come, gone] }));
}

function waited(changes: readonly Counted[]): FigureRow[] {
  const rows = waits.map(([name]) => ({ name, values: [0, 0] }));
  for (const { state, date, decidedAt } of changes) {
    if (decidedAt === null || (state !== 'accepted' && state !== 'rejected')) continue;
    const hours = (Date.parse(decidedAt) - Date.parse(date)) / 3_600_000;
    const row = rows[waits.findIndex(([, most]) => hours < most)];
    if (row) row.values[state === 'accepted' ? 0 : 1]!++;
  }
  return rows.some(({ values }) => total(values)) ? rows : [];
}

function talk(threads: readonly Thread[], is: Material['is'], nameOf: Material['nameOf']): FigureRow[] {
  const people = new Map<PersonId, number[]>();
  const count = (author: PersonId, column: number) => {
    const person = is(author);
    const values = people.get(person) ?? [0, 0, 0, 0];
    values[column]!++;
    people.set(person, values);
  };
  for (const { author, comments, toSelf } of threads) {
    if (toSelf) continue;
    count(author, 0);
    comments.forEach((comment, i) => {
      if (i && !comment.deleted) count(comment.author, 1);
      if (!comment.query || comment.deleted) return;
      count(comment.author, 2);
      if (comment.query.settled) count(comment.query.to, 3);
    });
  }
  return [...people].map(([person, values]): FigureRow => ({ name: nameOf(person), person, values })).sort(mostFirst);
}

/** The sum of each column. */
export const sumsOf = ({ columns, rows }: Figure): number[] =>
  columns.map((_, i) => rows.reduce((sum, { values }) => sum + values[i]!, 0));

/** In the middle of all times from change to decision, in milliseconds; null where nothing is decided. */
export function medianWait(changes: readonly Counted[]): number | null {
  const all = changes
    .flatMap(({ state, date, decidedAt }) =>
      decidedAt && (state === 'accepted' || state === 'rejected') ? [Date.parse(decidedAt) - Date.parse(date)] : [],
    )
    .filter((time) => !Number.isNaN(time))
    .sort((a, b) => a - b);
  if (!all.length) return null;
  const middle = all.length >> 1;
  return all.length % 2 ? all[middle]! : (all[middle - 1]! + all[middle]!) / 2;
}
