import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import {
  changeIds,
  collate,
  knownAgain,
  overAnyLimit,
  limitWords,
  listChanges,
  merged,
  schema,
  type Asset,
  type FormatName,
  type Loss,
  type Pending,
  type Person,
} from '@tea-pencil/core';
import { keptText, type KeptText } from '../database/kept-text.js';
import { initialsFromFile, lookOf, nameFromFile } from '../names/names.js';
import { areApart } from './apart.js';
import { hashOf, withPictures } from './pictures-again.js';
import { readFile } from './read-task.js';

/** Lays texts together that come from anywhere, as a manuscript of its own. */

/** A text: a file, or a manuscript of the house as data. */
export type Source =
  | { name: string; bytes: Uint8Array; format: FormatName }
  | { name: string; json: string; people: Person[]; assets: Asset[] };

export interface ToCollate {
  before: Source;
  after: Source;
  /** Another revision of the text before, made beside the one after. */
  other: Source | null;
  pending: Pending;
  /** In whose names what is not recorded stands: of the text after, and of the other one. */
  names: [after: string, other: string];
  /** Whether to go on though the texts have next to nothing in common. */
  anyway: boolean;
  /** ISO 8601 in UTC to the second. */
  date: string;
}

export type Collated = { reason: string; apart?: true } | CollatedText;
export interface CollatedText {
  text: KeptText;
  people: Person[];
  outside: Person[];
  assets: Asset[];
  losses: Loss[];
  changes: number;
  meetings: number;
}

interface Read {
  doc: Node;
  people: Person[];
  outside: ReadonlySet<string>;
  assets: Asset[];
  losses: Loss[];
}

async function read(source: Source): Promise<Read | { reason: string }> {
  if ('json' in source) {
    const { json, people, assets } = source;
    return { doc: Node.fromJSON(schema, JSON.parse(json)), people, outside: new Set(), assets, losses: [] };
  }
  const progress = new Int32Array(new SharedArrayBuffer(12));
  const file = await readFile({ ...source, progress });
  if ('reason' in file) return { reason: `“${source.name}” ${file.reason}.` };
  const { text, people, outside, assets, losses } = file;
  const ids = new Set(outside.map(({ id }) => id));
  return { doc: Node.fromJSON(schema, JSON.parse(text.json)), people, outside: ids, assets, losses };
}

/**
 * The people of several texts. Those of files who are called the same are the same; nobody whom a file names is taken for
 * one of the house.
 */
class Everyone {
  readonly people = new Map<string, Person>();
  readonly outside = new Set<string>();
  readonly #outsiders = new Map<string, string>();
  /** Whoever is called so, of the house or not: for finding again what went along. */
  readonly #called = new Map<string, string>();

  add(person: Person, isOutside: boolean): string {
    const look = lookOf(person.name);
    const known = isOutside ? this.#outsiders.get(look) : undefined;
    if (known !== undefined) return known;
    if (!this.people.has(person.id)) this.people.set(person.id, person);
    if (!this.#called.has(look)) this.#called.set(look, person.id);
    if (isOutside) {
      this.#outsiders.set(look, person.id);
      this.outside.add(person.id);
    }
    return person.id;
  }

  called = ({ id, name }: Person): string => this.#called.get(lookOf(name)) ?? id;

  named(name: string): string {
    const kept = nameFromFile(name);
    return this.add({ id: nanoid(12), name: kept, initials: initialsFromFile('', kept) }, true);
  }
}

export async function collateTexts(task: ToCollate): Promise<Collated> {
  const { names, pending, anyway, date } = task;
  const before = await read(task.before);
  if ('reason' in before) return before;
  const everyone = new Everyone();
  for (const person of before.people) everyone.add(person, before.outside.has(person.id));
  const assets = [...before.assets];
  const byHash = new Map(assets.map(({ id, bytes }) => [hashOf(bytes), id]));
  const losses = [...before.losses];
  const revisions: Node[] = [];
  for (const source of task.other ? [task.after, task.other] : [task.after]) {
    const text = await read(source);
    if ('reason' in text) return text;
    losses.push(...text.losses);
    const like = new Map(text.people.map((one) => [one.id, everyone.called(one)]));
    const ids = new Map(text.people.map((one) => [one.id, everyone.add(one, text.outside.has(one.id))]));
    const named = {
      looksLike: (person: string) => like.get(person) ?? person,
      is: (person: string) => ids.get(person) ?? person,
    };
    const same = new Map<string, string>();
    for (const asset of text.assets) {
      const hash = hashOf(asset.bytes);
      const there = byHash.get(hash);
      if (there !== undefined) same.set(asset.id, there);
      else {
        byHash.set(hash, asset.id);
        assets.push(asset);
      }
    }
    const doc = withPictures(text.doc, same);
    if (!anyway && areApart(before.doc, doc))
      return { apart: true, reason: `“${task.before.name}” and “${source.name}” have next to nothing in common.` };
    revisions.push(knownAgain(doc, before.doc, named));
  }
  const stamp = (name: string) => ({ author: everyone.named(name), date, newChange: () => nanoid(12) });
  const [after, other] = revisions as [Node, Node?];
  const both = other && merged(before.doc, after, other, { ours: stamp(names[0]), theirs: stamp(names[1]) });
  const doc = both?.doc ?? collate(before.doc, after, stamp(names[0]), pending);
  const over = overAnyLimit(null, doc);
  if (over) return { reason: `This is too much: ${limitWords[over]}.` };
  const authors = new Set([...changeIds(doc).values()].map(({ author }) => author));
  const shown = new Set<string>();
  const note = (attrs: Record<string, unknown>) => typeof attrs.asset === 'string' && shown.add(attrs.asset);
  doc.descendants(({ attrs, marks }) => {
    note(attrs);
    for (const mark of marks)
      for (const side of ['was', 'now']) if (mark.attrs[side]) note(mark.attrs[side] as Record<string, unknown>);
  });
  const people = [...everyone.people.values()].filter(({ id }) => authors.has(id));
  return {
    text: keptText(doc),
    people,
    outside: people.filter(({ id }) => everyone.outside.has(id)),
    assets: assets.filter(({ id }) => shown.has(id)).map((asset) => ({ ...asset })),
    losses,
    changes: listChanges(doc).length,
    meetings: both?.meetings.length ?? 0,
  };
}
