import { initialsOf, unnamed, type Person } from '../../manuscript/people.js';
import type { Asset, Loss } from '../../manuscript/manuscript.js';
import type { Mark } from 'prosemirror-model';
import { noDate, toDate, type Signature } from '../../manuscript/signature.js';
import { isChangeId, isPersonId } from '../../manuscript/values.js';
import type { Properties } from '../../manuscript/properties.js';
import { reviewMarks, schema } from '../../manuscript/schema.js';
import { attribute, parseXml, sliceOf, type Element, type Scope } from '../xml.js';
import type { Definitions } from './definitions.js';
import { assetOf } from './pictures.js';
import { Fragments } from './fragments.js';
import { readLook, type Look } from './looks.js';
import { prefixes } from './names.js';
import type { Opened } from './opened.js';

/** What the readers of a file’s parts share: who there is, which changes, what is counted, and what stands beside the text. */

export class People {
  readonly people: Person[] = [];
  readonly #byId = new Map<string, Person>();
  readonly #byName = new Map<string, Person>();
  /** The names by which the file itself knows them, if it does. */
  readonly names: Record<string, string | null> = {};
  #freshId(): string {
    let n = this.people.length + 1;
    while (this.#byId.has(`p${n}`)) n++;
    return `p${n}`;
  }

  of(name: string | undefined, initials: string | undefined, id: string | undefined): string {
    const known = name?.trim() || unnamed;
    let person = id ? this.#byId.get(id) : this.#byName.get(known);
    if (!person) {
      person = { id: id ?? this.#freshId(), name: known, initials: initials?.trim() || initialsOf(known) };
      this.people.push(person);
      this.names[person.id] = id ?? null;
      this.#byId.set(person.id, person);
      if (!this.#byName.has(known)) this.#byName.set(known, person);
    } else if (initials?.trim() && person.initials === initialsOf(known)) person.initials = initials.trim();
    return person.id;
  }
}

export class Tally {
  readonly #found = new Map<string, Loss>();
  add(what: string, where = 'text', howMany = 1): void {
    const key = `${what}|${where}`;
    const known = this.#found.get(key);
    if (known) known.howMany += howMany;
    else this.#found.set(key, { what, where, howMany });
  }
  list = (): Loss[] => [...this.#found.values()];
}

/** The change an element names, as our own files do. */
export function changeName(element: Element): string | undefined {
  const named = attribute(element, 'tp:change');
  return isChangeId(named) ? named : undefined;
}

/** JSON that an attribute of ours holds, which anyone may have written. */
export function dataIn(element: Element | undefined, name: string): unknown {
  const text = attribute(element, name);
  if (text === undefined || text.length > 100_000) return undefined;
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

/** A moment of a file; one that names no zone is taken as in UTC, so that it is the same wherever it is read. */
function momentOf(date: string | undefined): number {
  const zoned = date && !/(Z|[+-]\d\d:?\d\d)$/i.test(date) && date.includes('T') ? `${date}Z` : (date ?? '');
  const time = Date.parse(zoned);
  return time >= 0 && time < 253402300800000 ? time : NaN;
}

export class Context {
  readonly people = new People();
  readonly losses = new Tally();
  readonly carried = new Tally();
  readonly fragments = new Fragments();
  readonly assets: Asset[] = [];
  /** Which pictures are which parts. */
  readonly partOf = new Map<string, string>();
  #changes = 0;
  /** The change of the token before, which the next one continues if author and date are the same. */
  #last: Signature | null = null;
  readonly #signed = new Map<string, { author: string; date: string }>();
  /** Moves by the names that the file gives them. */
  readonly #moves = new Map<string, Signature>();

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    /** The ids that changes have in the file. */
    readonly named: ReadonlySet<string>,
  ) {}

  person = (name: string, id: string): string => this.people.of(name, undefined, id);

  /** Who made what an element stands for, and when; the same words are looked at once. */
  signed(element: Element): { author: string; date: string } {
    const { attributes: said } = element;
    const key = `${said['w:author']} ${said['w:initials']} ${said['tp:person']} ${said['w:date']}`;
    let found = this.#signed.get(key);
    if (!found) this.#signed.set(key, (found = this.#signedBy(element)));
    return found;
  }

  #signedBy(element: Element): { author: string; date: string } {
    const own = attribute(element, 'tp:person');
    const author = this.people.of(
      attribute(element, 'w:author'),
      attribute(element, 'w:initials'),
      isPersonId(own) ? own : undefined,
    );
    const time = momentOf(attribute(element, 'w:date'));
    return { author, date: Number.isNaN(time) ? noDate : toDate(new Date(time)) };
  }

  /** An id that the file gives no change. */
  newChange = (): string => {
    do this.#changes++;
    while (this.named.has(`c${this.#changes}`));
    return `c${this.#changes}`;
  };

  /** What comes next continues no change. */
  apart = (): null => (this.#last = null);

  /** The changes of the row and cell that one reads in: what their author changed in them then is part of them. */
  readonly within: Signature[] = [];

  /** The change an element belongs to: the one it names, its move, or the neighbouring one of the same author and date. */
  change(element: Element, move: string | undefined): Signature {
    const { author, date } = this.signed(element);
    const named = changeName(element);
    if (named === undefined && move !== undefined) {
      const known = this.#moves.get(move) ?? { change: this.newChange(), author, date };
      this.#moves.set(move, known);
      // Both ends of a move are one change, of one date; what somebody else did in it is their own.
      if (known.author === author) return (this.#last = known);
    }
    const around = this.within.findLast((one) => one.author === author && one.date === date);
    if (named === undefined && around) return (this.#last = around);
    const continues = this.#last?.author === author && this.#last.date === date;
    const change = named ?? (continues ? this.#last!.change : this.newChange());
    return (this.#last = { change, author, date });
  }

  /** Properties that name a picture by its part. */
  #byAsset(properties: unknown): unknown {
    const { asset } = (properties ?? {}) as Properties;
    if (typeof asset !== 'string' || !asset.startsWith('part:')) return properties;
    return { ...(properties as Properties), asset: assetOf(this, this.file.nameOf(asset.slice(5)) ?? '') };
  }

  /**
   * Marks that our own file tells whole, where the standard has no place for them.
   * @param types those that can stand there
   * @returns null where it tells none, or one that cannot be
   */
  marks(element: Element | undefined, attributeName: string, types: ReadonlySet<string>): readonly Mark[] | null {
    const data = dataIn(element, attributeName);
    if (!Array.isArray(data) || data.length > 50) return null;
    let marks: readonly Mark[] = [];
    for (const one of data as (Record<string, unknown> | null)[]) {
      const { type, name, ...attrs } = one ?? {};
      if (typeof type !== 'string' || !types.has(type) || !reviewMarks.has(type) || typeof name !== 'string')
        return null;
      try {
        for (const side of ['was', 'now']) if (side in attrs) attrs[side] = this.#byAsset(attrs[side]);
        const author = this.people.of(name.slice(0, 200), undefined, String(attrs.author));
        marks = schema.markFromJSON({ type, attrs: { ...attrs, author } }).addToSet(marks);
      } catch {
        return null;
      }
    }
    return marks;
  }
}

/** A part that text stands in, with what it takes to keep a piece of it as it is. */
export class Part {
  readonly #looks = new Map<string, Look>();
  constructor(
    readonly context: Context,
    readonly name: string,
    readonly source: string,
    /** Where names mean what they mean at the top of the main part. */
    readonly base: () => Scope,
  ) {}

  slice = (element: Element): string => sliceOf(element, this.source, this.base());

  /** What a run looks like; the same properties are read once. */
  look(rPr: Element | undefined, paragraphStyle: string | undefined): Look {
    const { definitions } = this.context;
    const of = definitions.lookOfParagraph(paragraphStyle);
    if (!rPr) return { properties: {}, rest: '' };
    const key = `${paragraphStyle ?? ''}|${this.source.slice(rPr.start, rPr.end)}`;
    let look = this.#looks.get(key);
    if (!look) this.#looks.set(key, (look = readLook(rPr, definitions, of, this.slice)));
    return look;
  }

  parse = (each: { within: string; each: (child: Element, parent: Element) => void }): Element =>
    parseXml(this.source, { prefixes, ...each });
}

/** Properties of inline content as marks. */
export function marksOf({
  properties,
  carriedLook,
}: {
  properties: Properties;
  carriedLook: string | null;
}): readonly Mark[] {
  let marks: readonly Mark[] = [];
  for (const [name, value] of Object.entries(properties))
    if (value !== null) marks = schema.marks[name as 'bold'].create(value === true ? null : { value }).addToSet(marks);
  return carriedLook ? schema.marks.carriedLook.create({ value: carriedLook }).addToSet(marks) : marks;
}
