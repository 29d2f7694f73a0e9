import { changeKinds, type Change, type ChangeKind } from '../changes/list.js';
import { alikeKey } from '../changes/alike.js';
import type { ChangeId } from '../manuscript/signature.js';
import type { PersonId } from '../manuscript/people.js';
import type { Thread } from '../manuscript/threads.js';
import { openQueries } from '../threads/queries.js';

/** What one looks at now. Of each list: empty means all. What is outside the lens is not touched by "all". */
export interface Lens {
  authors: readonly PersonId[];
  kinds: readonly ChangeKind[];
  state: 'pending' | 'decided' | 'both';
  /** Made at or after this moment (ISO 8601). */
  since: string | null;
  /** In the section under a heading, as the outline tells it. */
  part: string | null;
  /** Alike to a change: what `alikeKey` says of it. */
  alike: string | null;
  /** Only what is talked about. */
  discussed: boolean;
  /** Only what someone is named in, where it is talked about. */
  naming: PersonId | null;
  /** Only where someone still owes an answer. */
  owing: PersonId | null;
}

export const everything: Lens = {
  authors: [],
  kinds: [],
  state: 'both',
  since: null,
  part: null,
  alike: null,
  discussed: false,
  naming: null,
  owing: null,
};

/** What a lens must know of a change, pending or decided. */
export interface Seen extends Omit<Change, 'ranges' | 'objects' | 'marks'> {
  decided?: boolean;
}

/** What a lens must know of the people and the talk. */
export interface Surroundings {
  /** Under which id all that a person wrote is brought together. */
  is(author: PersonId): PersonId;
  /** The changes that are talked about. */
  discussed: ReadonlySet<ChangeId>;
  /** The changes in whose talk someone is named. */
  naming(person: PersonId): ReadonlySet<ChangeId>;
  /** The changes in whose talk someone is asked something and has not answered. */
  owing(person: PersonId): ReadonlySet<ChangeId>;
}

/** What a lens must know of a thread besides what is said in it. */
export interface ThreadSurroundings {
  is(author: PersonId): PersonId;
  /** The section it stands in, as the outline tells it. */
  section(thread: Thread): readonly string[];
  /** Whether someone is named in it. */
  names(thread: Thread, person: PersonId): boolean;
}

/** Whether a lens lets everything through. */
export const isEverything = (lens: Lens): boolean => lensToQuery(lens) === '';

/** What a lens lets through. */
export function lensFilter(lens: Lens, { is, discussed, naming, owing }: Surroundings): (change: Seen) => boolean {
  const authors = new Set(lens.authors.map(is));
  const kinds = new Set(lens.kinds);
  const since = lens.since === null ? null : Date.parse(lens.since);
  const named = lens.naming === null ? null : naming(lens.naming);
  const owed = lens.owing === null ? null : owing(lens.owing);
  return (change) =>
    (!authors.size || authors.has(is(change.author))) &&
    (!kinds.size || kinds.has(change.kind)) &&
    (lens.state === 'both' || (lens.state === 'decided') === !!change.decided) &&
    (since === null || Date.parse(change.date) >= since) &&
    (lens.part === null || change.whereabouts.section.includes(lens.part)) &&
    (!lens.discussed || discussed.has(change.id)) &&
    (!named || named.has(change.id)) &&
    (!owed || owed.has(change.id)) &&
    (lens.alike === null || alikeKey(change) === lens.alike);
}

/** Which threads a lens lets through. Kinds, state and likeness are of changes only and leave threads alone. */
export function threadFilter(lens: Lens, { is, section, names }: ThreadSurroundings): (thread: Thread) => boolean {
  const authors = new Set(lens.authors.map(is));
  const since = lens.since === null ? null : Date.parse(lens.since);
  return (thread) => {
    const said = [thread, ...thread.comments];
    return (
      (!authors.size || said.some(({ author }) => authors.has(is(author)))) &&
      (since === null || said.some(({ date }) => Date.parse(date) >= since)) &&
      (lens.part === null || section(thread).includes(lens.part)) &&
      (lens.naming === null || names(thread, lens.naming)) &&
      (lens.owing === null || openQueries(thread).some(({ query }) => is(query!.to) === is(lens.owing!)))
    );
  };
}

/**
 * A lens as the query of an address (WHATWG URL, application/x-www-form-urlencoded); what is not narrowed is left out,
 * so that of two lenses that show the same the query is the same.
 */
export function lensToQuery(lens: Lens): string {
  const query = new URLSearchParams();
  for (const author of [...lens.authors].sort()) query.append('by', author);
  for (const kind of changeKinds) if (lens.kinds.includes(kind)) query.append('kind', kind);
  if (lens.state !== 'both') query.set('state', lens.state);
  if (lens.since !== null) query.set('since', lens.since);
  if (lens.part !== null) query.set('part', lens.part);
  if (lens.alike !== null) query.set('alike', lens.alike);
  if (lens.discussed) query.set('discussed', 'yes');
  if (lens.naming !== null) query.set('naming', lens.naming);
  if (lens.owing !== null) query.set('owing', lens.owing);
  return query.toString();
}

/** The lens of an address; what it cannot understand in it, it leaves out. */
export function lensFromQuery(search: string): Lens {
  const query = new URLSearchParams(search);
  const text = (name: string) => query.get(name) || null;
  const state = query.get('state');
  const since = text('since');
  const asked = query.getAll('kind');
  return {
    authors: query.getAll('by').filter(Boolean),
    kinds: changeKinds.filter((kind) => asked.includes(kind)),
    state: state === 'pending' || state === 'decided' ? state : 'both',
    since: since !== null && Number.isNaN(Date.parse(since)) ? null : since,
    part: text('part'),
    alike: text('alike'),
    discussed: query.get('discussed') === 'yes',
    naming: text('naming'),
    owing: text('owing'),
  };
}
