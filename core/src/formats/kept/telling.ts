import type { Mark } from 'prosemirror-model';
import type { Fragment, Origin } from '../../manuscript/origin.js';
import { unnamed, type Person } from '../../manuscript/people.js';
import type { Properties } from '../../manuscript/properties.js';
import { declarations, elements, parseXml, tag, type Element, type Prefixes, type Scope } from '../xml.js';
import { aside, onlyInPrint } from './unsettled.js';

/** A piece of what a file says besides. */
export interface Piece {
  element: Element;
  xml: string;
}

/** What only we know, as attributes of ours that other programs pass over. */
export abstract class Telling {
  readonly #people: Map<string, Person>;
  readonly #pieces = new Map<string, readonly Piece[]>();

  constructor(
    people: readonly Person[],
    /** Under what names the file knows people and changes. */
    readonly names: Pick<Origin, 'people' | 'changes'>,
    readonly fragments: Readonly<Record<string, Fragment>>,
    /** What names mean at the top of the main part. */
    readonly scope: Scope,
    readonly prefixes: Prefixes,
  ) {
    this.#people = new Map(people.map((person) => [person.id, person]));
  }

  fragment = (name: string | null): Fragment | undefined =>
    name !== null && Object.hasOwn(this.fragments, name) ? this.fragments[name] : undefined;

  /** The elements that a fragment is made of; none where there is no such fragment, or where it stands around words. */
  pieces(name: string | null): readonly Piece[] {
    const { xml, close } = this.fragment(name) ?? {};
    // What stands around words is two pieces, neither of which is whole.
    if (name === null || xml === undefined || close !== undefined) return [];
    let found = this.#pieces.get(name);
    if (!found) {
      const open = `<x${declarations(this.scope)}>`;
      found = [...elements(parseXml(`${open}${xml}</x>`, { prefixes: this.prefixes }))].map((element) => ({
        element,
        xml: xml.slice(element.start - open.length, element.end - open.length),
      }));
      this.#pieces.set(name, found);
    }
    return found;
  }

  /** The part with a picture, so that whoever reads the file finds it; nothing where the picture is not here. */
  protected abstract leadTo(asset: string): string | undefined;

  nameOf = (id: string): string => this.#people.get(id)?.name ?? unnamed;
  initialsOf = (id: string): string => this.#people.get(id)?.initials ?? '?';

  /** Under what name the file knows a change. */
  changeName = (id: string): string => this.names.changes[id] ?? id;

  /** Under what name the file knows somebody; nothing for those it knows by what they are called only. */
  personName = (id: string): string | undefined =>
    Object.hasOwn(this.names.people, id) ? (this.names.people[id] ?? undefined) : id;

  /** Marks as an attribute of ours holds them; compared by all but the ids of people and changes. */
  told = (attribute: string, marks: readonly Mark[]): string => {
    const data = marks.map(({ type, attrs: { author, change, ...attrs } }) => ({
      ids: {
        author: this.personName(author as string),
        change: this.changeName(change as string),
      },
      said: {
        type: type.name,
        name: this.nameOf(author as string),
        ...attrs,
        ...(attrs.was && { was: this.#byPart(attrs.was as Properties), now: this.#byPart(attrs.now as Properties) }),
      },
    }));
    const whole = data.map(({ ids, said }) => ({ ...said, ...ids }));
    return (
      aside(attributes({ [attribute]: JSON.stringify(whole) })) +
      onlyInPrint(attribute + JSON.stringify(data.map(({ said }) => said)))
    );
  };

  /** Something else that only we know, as an attribute. */
  own = (attribute: string, value: unknown): string => {
    const xml = attributes({ [attribute]: typeof value === 'string' ? value : JSON.stringify(value) });
    return aside(xml) + onlyInPrint(xml);
  };

  /** Properties with pictures by their parts, which every reader of the file knows. */
  #byPart(properties: Properties): Properties {
    if (typeof properties.asset !== 'string') return properties;
    const name = this.leadTo(properties.asset);
    return name === undefined ? properties : { ...properties, asset: `part:${name}` };
  }
}

/** Attributes as they stand in a start tag. */
export const attributes = (named: Record<string, string | number | undefined>): string => tag('x', named).slice(2, -2);

/** An element whose attributes are written already. */
export const element = (name: string, attributes: string, content = ''): string =>
  content ? `<${name}${attributes}>${content}</${name}>` : `<${name}${attributes}/>`;
