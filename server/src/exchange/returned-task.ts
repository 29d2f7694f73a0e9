import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import {
  changeIds,
  kinds,
  knownAgain,
  returned,
  schema,
  toDate,
  type Asset,
  type Loss,
  type Person,
} from '@tea-pencil/core';
import { rewritten, type Rewritten } from '../drafts/rewriting-task.js';
import { lookOf } from '../names/names.js';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';
import { areApart } from './apart.js';
import { hashOf, withPictures } from './pictures-again.js';
import { readFile, type FileToRead } from './read-task.js';

/** Takes a file in that has come back of a draft: what was recorded in it, and what was done without being recorded. */

export interface ToTakeIn extends Omit<FileToRead, 'progress'> {
  /** The text as it stands, as JSON. */
  now: string;
  manuscript: string;
  /** The draft that was sent out. */
  version: number;
  /** The people of the manuscript. */
  people: (Pick<Person, 'id' | 'name'> & { isOutside: boolean })[];
  /** In whose name the unrecorded stands; null: whoever has recorded the most in the file, else who brings it in. */
  sender: string | null;
  bringer: string;
  /** Whether to go on though it has next to nothing in common with the draft. */
  anyway: boolean;
  /** ISO 8601 in UTC to the second. */
  date: string;
}

export type TakenIn = { reason: string; apart?: true } | (Rewritten & TakenInMade);
export interface TakenInMade {
  unrecorded: number;
  recorded: number;
  meetings: number;
  /** How many changes that went along somebody has decided there. */
  decided: number;
  sender: string;
  /** People of the file who are not known here yet, and pictures that are new. */
  outside: Person[];
  assets: Asset[];
  losses: Loss[];
  /** Comments that are new in the file; they are not taken in. */
  comments: number;
}

/** By what a comment is known again: files know no ids. */
const keyOf = (author: string, date: string) => `${author} ${date}`;

/** Who has recorded the most. */
function busiest(authors: readonly string[]): string | undefined {
  const counts = new Map<string, number>();
  for (const author of authors) counts.set(author, (counts.get(author) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

export async function takeIn(task: ToTakeIn): Promise<TakenIn> {
  const { manuscript, version, people, sender, bringer, date, bytes, format, anyway } = task;
  const progress = new Int32Array(new SharedArrayBuffer(12));
  const file = await readFile({ bytes, format, progress });
  if ('reason' in file) return file;
  const nameOf = new Map(file.people.map(({ id, name }) => [id, lookOf(name)]));
  const called = (among: readonly Pick<Person, 'id' | 'name'>[]) =>
    new Map(among.map(({ id, name }) => [lookOf(name), id]));
  const [all, outsiders] = [called(people), called(people.filter(({ isOutside }) => isOutside))];
  const look = (person: string) => nameOf.get(person) ?? '';
  const looksLike = (person: string) => all.get(look(person)) ?? person;
  // Nobody whom a file names is taken for one of the people here, save whom one has named oneself as its sender.
  const is = (person: string) =>
    sender !== null && looksLike(person) === sender ? sender : (outsiders.get(look(person)) ?? person);
  const known = await ask<{ id: string; hash: string }>(
    `SELECT id, encode(sha256(bytes), 'hex') AS hash FROM assets WHERE manuscript_id = $1`,
    [manuscript],
  );
  const byHash = new Map(known.map(({ id, hash }) => [hash, id]));
  const same = new Map<string, string>();
  for (const { id, bytes: picture } of file.assets) {
    const there = byHash.get(hashOf(picture));
    if (there !== undefined) same.set(id, there);
  }
  if (!anyway && areApart(await pastText(ask, manuscript, version), Node.fromJSON(schema, JSON.parse(file.text.json))))
    return { apart: true, reason: 'has next to nothing in common with the draft that was sent out' };
  const comments = await ask<{ author: string; at: Date }>(
    `SELECT comments.author, made_at AS at FROM comments JOIN threads ON threads.id = thread_id WHERE manuscript_id = $1`,
    [manuscript],
  );
  const said = new Set(comments.map(({ author, at }) => keyOf(author, toDate(at))));
  const now = Node.fromJSON(schema, JSON.parse(task.now));
  const draft = await pastText(ask, manuscript, version);
  const read = withPictures(Node.fromJSON(schema, JSON.parse(file.text.json)), same);
  const came = knownAgain(read, draft, { looksLike, is }, kinds[format].holds.changes ? 'looks' : 'words');
  const went = changeIds(draft);
  const recordedBy = [...changeIds(came)].flatMap(([id, { author }]) => (went.has(id) ? [] : author));
  const by = sender ?? busiest(recordedBy) ?? bringer;
  const stamp = { author: by, date, newChange: () => nanoid(12) };
  const { doc, unrecorded, recorded, meetings, decided } = returned(now, draft, came, stamp);
  const written = rewritten(now, doc);
  const authors = new Set(written.fresh.map(([, { author }]) => author));
  const shown = new Set<string>();
  doc.descendants(({ attrs }) => void (typeof attrs.asset === 'string' && shown.add(attrs.asset)));
  return {
    ...written,
    unrecorded: unrecorded.length,
    recorded: recorded.length,
    decided: kinds[format].holds.changes ? decided.length : 0,
    meetings: new Set(meetings.map(({ theirs }) => theirs)).size,
    sender: by,
    outside: file.outside.filter(({ id }) => authors.has(id)),
    assets: file.assets.filter(({ id }) => shown.has(id) && !same.has(id)),
    losses: file.losses,
    comments: file.threads
      .flatMap(({ comments }) => comments)
      .filter((one) => !said.has(keyOf(looksLike(one.author), one.date))).length,
  };
}
