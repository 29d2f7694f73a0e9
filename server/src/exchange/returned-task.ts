import { createHash } from 'node:crypto';
import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import { changeIds, kinds, knownAgain, returned, schema, type Asset, type Loss, type Person } from '@tea-pencil/core';
import { rewritten, type Rewritten } from '../drafts/rewriting-task.js';
import { lookOf } from '../names/names.js';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';
import { readFile, type FileToRead } from './read-task.js';

/** Takes a file in that has come back of a draft: what was recorded in it, and what was done without being recorded. */

export interface ToTakeIn extends Omit<FileToRead, 'progress'> {
  /** The text as it stands, as JSON. */
  now: string;
  manuscript: string;
  /** The draft that was sent out. */
  version: number;
  /** The people of the manuscript. */
  people: Pick<Person, 'id' | 'name'>[];
  /** In whose name the unrecorded stands; null: whoever has recorded the most in the file, else who brings it in. */
  sender: string | null;
  bringer: string;
  /** ISO 8601 in UTC to the second. */
  date: string;
}

export type TakenIn = { reason: string } | (Rewritten & TakenInMade);
export interface TakenInMade {
  unrecorded: number;
  recorded: number;
  meetings: number;
  sender: string;
  /** People of the file who are not known here yet, and pictures that are new. */
  outside: Person[];
  assets: Asset[];
  losses: Loss[];
  /** Threads of the file, which are not taken in. */
  threads: number;
}

const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** The pictures of the file under the ids that the same pictures have here. */
function withPictures(doc: Node, same: ReadonlyMap<string, string>): Node {
  const named = (json: unknown): unknown => {
    if (Array.isArray(json)) return json.map(named);
    if (typeof json !== 'object' || json === null) return json;
    return Object.fromEntries(
      Object.entries(json).map(([key, value]) => [
        key,
        key === 'asset' && typeof value === 'string' ? (same.get(value) ?? value) : named(value),
      ]),
    );
  };
  return same.size ? Node.fromJSON(schema, named(doc.toJSON())) : doc;
}

/** Who has recorded the most. */
function busiest(authors: readonly string[]): string | undefined {
  const counts = new Map<string, number>();
  for (const author of authors) counts.set(author, (counts.get(author) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

export async function takeIn(task: ToTakeIn): Promise<TakenIn> {
  const { manuscript, version, people, sender, bringer, date, bytes, format } = task;
  const progress = new Int32Array(new SharedArrayBuffer(12));
  const file = await readFile({ bytes, format, progress });
  if ('reason' in file) return file;
  const byLook = new Map(people.map(({ id, name }) => [lookOf(name), id]));
  const here = new Map(file.people.map(({ id, name }) => [id, byLook.get(lookOf(name)) ?? id]));
  const isHere = (person: string) => here.get(person) ?? person;
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
  const now = Node.fromJSON(schema, JSON.parse(task.now));
  const draft = await pastText(ask, manuscript, version);
  const read = withPictures(Node.fromJSON(schema, JSON.parse(file.text.json)), same);
  const came = knownAgain(read, draft, isHere, kinds[format].holds.changes ? 'looks' : 'words');
  const went = changeIds(draft);
  const recordedBy = [...changeIds(came)].flatMap(([id, { author }]) => (went.has(id) ? [] : author));
  const by = sender ?? busiest(recordedBy) ?? bringer;
  const stamp = { author: by, date, newChange: () => nanoid(12) };
  const { doc, unrecorded, recorded, meetings } = returned(now, draft, came, stamp);
  const written = rewritten(now, doc);
  const authors = new Set(written.fresh.map(([, { author }]) => author));
  const shown = new Set<string>();
  doc.descendants(({ attrs }) => void (typeof attrs.asset === 'string' && shown.add(attrs.asset)));
  return {
    ...written,
    unrecorded: unrecorded.length,
    recorded: recorded.length,
    meetings: new Set(meetings.map(({ theirs }) => theirs)).size,
    sender: by,
    outside: file.outside.filter(({ id }) => authors.has(id)),
    assets: file.assets.filter(({ id }) => shown.has(id) && !same.has(id)),
    losses: file.losses,
    threads: file.threads.length,
  };
}
