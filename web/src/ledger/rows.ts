import {
  alikeKey,
  describeChange,
  endedWord,
  endedWords,
  inSentence,
  remarkText,
  writeCsv,
  type Change,
  type Piece,
  type Seen,
  type Thread,
} from '@tea-pencil/core';
import type { Node } from 'prosemirror-model';
import type { DecidedChange, Ledger } from '@tea-pencil/wire';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import { exactTime } from '../kit/time';

/** A line of the ledger: a change, pending or decided. */
export interface Row {
  id: string;
  number: number;
  seen: Seen;
  /** Where it stands, or stood. */
  at: number;
  said: string;
  pending: Change | null;
  decided: DecidedChange | null;
  threads: readonly Thread[];
}

export type Column = 'number' | 'place' | 'kind' | 'author' | 'made' | 'state';
export type Grouping = 'alike' | 'author' | 'section' | 'nothing';

/** All changes, pending and decided. */
export function rowsOf(
  changes: readonly Change[],
  { numbers, decided }: Ledger,
  talk: ReadonlyMap<string, Thread[]>,
): Row[] {
  const numberOf = new Map(numbers);
  const pendingIds = new Set(changes.map(({ id }) => id));
  let next = numbers.length + decided.length;
  const threads = (id: string) => talk.get(id) ?? [];
  return [
    ...changes.map((change): Row => ({
      id: change.id,
      number: numberOf.get(change.id) ?? ++next, // one of this moment: the server has given it the same, or will
      seen: change,
      at: change.ranges[0].from,
      said: describeChange(change),
      pending: change,
      decided: null,
      threads: threads(change.id),
    })),
    ...decided
      .filter(({ id }) => !pendingIds.has(id))
      .map((entry): Row => ({
        id: entry.id,
        number: entry.number,
        seen: { ...entry, decided: true },
        at: entry.at,
        said: describeChange(entry),
        pending: null,
        decided: entry,
        threads: threads(entry.id),
      })),
  ];
}

/** What a row is sorted by, in a column. */
function keyOf(row: Row, column: Column, info: ManuscriptInfo): string | number {
  switch (column) {
    case 'number':
      return row.number;
    case 'place':
      return row.at;
    case 'kind':
      return row.seen.kind;
    case 'author':
      return info.people.find(({ id }) => id === row.seen.author)?.name ?? '';
    case 'made':
      return row.seen.date;
    case 'state':
      return row.decided ? row.decided.decidedAt : '';
  }
}

export function sortRows(rows: readonly Row[], column: Column, down: boolean, info: ManuscriptInfo): Row[] {
  const sign = down ? -1 : 1;
  return rows
    .map((row) => ({ row, key: keyOf(row, column, info) }))
    .sort((a, b) => (a.key < b.key ? -sign : a.key > b.key ? sign : a.row.at - b.row.at))
    .map(({ row }) => row);
}

export interface RowGroup {
  title: string;
  rows: Row[];
}

/** Changes as one says them: the words before and after. */
const inWords = ({ before, after }: Seen) => {
  const short = (text: string) => (text.length > 40 ? `${text.slice(0, 38)}…` : text).replaceAll('\n', ' ¶ ').trim();
  if (before && after && before !== after) return `${short(before)} → ${short(after)}`;
  const only = short(after || before);
  return `${only ? `“${only}”` : 'a space'} ${after ? 'added' : 'removed'}`;
};

/** Rows brought together; alone where they are alike to none. */
export function groupRows(rows: readonly Row[], by: Grouping, info: ManuscriptInfo): RowGroup[] {
  if (by === 'nothing') return [{ title: '', rows: [...rows] }];
  const titleOf = (row: Row): string => {
    if (by === 'author') return info.people.find(({ id }) => id === whoIs(info, row.seen.author))?.name ?? 'Someone';
    if (by === 'section') return row.seen.whereabouts.heading ?? 'Before the first heading';
    return alikeKey(row.seen);
  };
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    const title = titleOf(row);
    const group = groups.get(title);
    if (group) group.push(row);
    else groups.set(title, [row]);
  }
  const all = [...groups].map(([title, members]) => ({ title, rows: members }));
  if (by !== 'alike') return all.map((group) => ({ ...group, title: `${group.title}, ${group.rows.length}` }));
  const together = all
    .filter((group) => group.rows.length > 1)
    .map((group) => ({ ...group, title: `${inWords(group.rows[0]!.seen)}, ${group.rows.length} alike` }));
  const alone = all.filter((group) => group.rows.length === 1).flatMap((group) => group.rows);
  return alone.length ? [...together, { title: `Not alike, ${alone.length}`, rows: alone }] : together;
}

/** Both sides of a row in its sentence. */
export const sentenceOf = (row: Row, doc: Node): { before: Piece[]; after: Piece[] } =>
  row.decided ? row.decided.sentence : inSentence(doc, row.pending!);

export function stateWords(row: Row, info: ManuscriptInfo, me: string): string {
  if (!row.decided) return 'to decide';
  const { state, decidedBy } = row.decided;
  const name = () => info.people.find(({ id }) => id === decidedBy)?.name ?? 'someone';
  return endedWords(state, decidedBy === me ? 'you' : decidedBy && name());
}

const text = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');

/** The rows as comma-separated values, in the order in which they stand. */
export function csvOf(rows: readonly Row[], doc: Node, info: ManuscriptInfo): string {
  const name = (id: string) => info.people.find((person) => person.id === id)?.name ?? '';
  const head = ['No.', 'Paragraph', 'Section', 'Kind', 'What', 'Words before', 'Words after', 'Sentence before'];
  const more = ['Sentence after', 'Author', 'Made', 'State', 'Decided by', 'Decided', 'Comments'];
  return writeCsv([
    [...head, ...more],
    ...rows.map((row) => {
      const { seen, decided } = row;
      const { before, after } = sentenceOf(row, doc);
      // What is only for oneself is in no file.
      const comments = row.threads.flatMap((thread) => (thread.toSelf ? [] : thread.comments));
      return [
        String(row.number),
        String(seen.whereabouts.paragraph),
        seen.whereabouts.section.join(' / '),
        seen.kind,
        row.said,
        seen.before,
        seen.after,
        text(before),
        text(after),
        name(seen.author),
        exactTime(seen.date),
        decided ? endedWord[decided.state] : 'to decide',
        decided?.decidedBy ? name(decided.decidedBy) : '',
        decided ? exactTime(decided.decidedAt) : '',
        comments.map((comment) => `${name(comment.author)}: ${remarkText(comment.body, name)}`).join('\n'),
      ];
    }),
  ]);
}
