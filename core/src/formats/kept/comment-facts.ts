import { tints, type Comment, type Thread, type Tint, type Turn } from '../../manuscript/threads.js';
import { type PersonId } from '../../manuscript/people.js';
import { isChangeId, isDate, isPersonId } from '../../manuscript/values.js';

/**
 * What we know of comments and threads and the file format has no place for, as ignorable attributes hold it. People
 * are named with it, since they need not have written anything in the file.
 */

export interface CommentFacts extends Pick<Comment, 'edited' | 'deleted' | 'query' | 'proposal'> {
  people?: Record<PersonId, string>;
}
export interface ThreadFacts extends Pick<Thread, 'whole' | 'tint' | 'turned' | 'quote'> {
  /** Whether the comment that bears them is none: the thread highlights its words and says nothing there. */
  bare?: true;
  people?: Record<PersonId, string>;
}

type Names = (id: PersonId) => string;

const named = (ids: (PersonId | undefined)[], nameOf: Names) => {
  const known = ids.filter((id) => id !== undefined);
  return known.length ? { people: Object.fromEntries(known.map((id) => [id, nameOf(id)])) } : {};
};

/** As the text of an attribute; nothing where there is nothing to say. */
const written = (facts: object): string | undefined =>
  Object.values(facts).some((value) => value !== undefined) ? JSON.stringify(facts) : undefined;

export function commentFacts({ edited, deleted, query, proposal }: Comment, nameOf: Names): string | undefined {
  return written({
    edited,
    deleted,
    query,
    proposal,
    ...named([query?.to, query?.settled?.by, proposal?.made?.by], nameOf),
  });
}

export function threadFacts({ whole, tint, turned, quote }: Thread, bare: boolean, nameOf: Names): string | undefined {
  return written({ whole, tint, turned, quote, ...(bare && { bare }), ...named([turned?.by], nameOf) });
}

type Data = Record<string, unknown>;
const dataOf = (value: unknown): Data => (value && typeof value === 'object' ? (value as Data) : {});
const date = (value: unknown) => (isDate(value) ? value : undefined);

/** Reads facts from a file, which anyone may have written: what keeps to no rule is left out. */
class Reader {
  readonly #data: Data;
  readonly #names: Data;
  constructor(
    text: string | undefined,
    readonly personOf: (name: string, id: PersonId) => PersonId,
  ) {
    let data: unknown;
    try {
      data = text && text.length < 100_000 ? JSON.parse(text) : {};
    } catch {
      data = {};
    }
    this.#data = dataOf(data);
    this.#names = dataOf(this.#data.people);
  }

  get = (name: string): unknown => this.#data[name];

  person(value: unknown): PersonId | undefined {
    if (!isPersonId(value)) return undefined;
    const name = this.#names[value];
    return typeof name === 'string' ? this.personOf(name.slice(0, 200), value) : undefined;
  }

  turn(value: unknown): Turn | undefined {
    const { by, date: at } = dataOf(value);
    const person = this.person(by);
    return person !== undefined && isDate(at) ? { by: person, date: at } : undefined;
  }
}

/** Only what is there. */
const present = <T extends object>(facts: T): T =>
  Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== undefined)) as T;

export function readCommentFacts(text: string | undefined, personOf: Reader['personOf']): CommentFacts {
  const reader = new Reader(text, personOf);
  const { to, settled } = dataOf(reader.get('query'));
  const asked = reader.person(to);
  const answered = reader.turn(settled);
  const { words, made } = dataOf(reader.get('proposal'));
  const turn = reader.turn(made);
  const { change } = dataOf(made);
  return present({
    edited: date(reader.get('edited')),
    deleted: date(reader.get('deleted')),
    query: asked === undefined ? undefined : { to: asked, ...(answered && { settled: answered }) },
    proposal:
      typeof words === 'string'
        ? { words: words.slice(0, 10_000), ...(turn && isChangeId(change) && { made: { ...turn, change } }) }
        : undefined,
  }) as CommentFacts;
}

export function readThreadFacts(text: string | undefined, personOf: Reader['personOf']): Partial<ThreadFacts> {
  const reader = new Reader(text, personOf);
  const [tint, quote] = [reader.get('tint'), reader.get('quote')];
  return present({
    whole: reader.get('whole') === true ? true : undefined,
    tint: tints.includes(tint as Tint) ? (tint as Tint) : undefined,
    turned: reader.turn(reader.get('turned')),
    quote: typeof quote === 'string' ? quote.slice(0, 10_000) : undefined,
    bare: reader.get('bare') === true ? true : undefined,
  }) as Partial<ThreadFacts>;
}
