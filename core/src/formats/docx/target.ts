import type { Person } from '../../manuscript/people.js';
import { unnamed } from '../../manuscript/people.js';
import type { Fragment, Origin } from '../../manuscript/origin.js';
import { noDate, type Signature } from '../../manuscript/signature.js';
import type { Mark } from 'prosemirror-model';
import type { Properties } from '../../manuscript/properties.js';
import type { Asset } from '../../manuscript/manuscript.js';
import { declarations, elements, parseXml, tag, type Scope } from '../xml.js';
import type { Definitions } from './definitions.js';
import type { Piece } from './looks.js';
import { prefixes } from './names.js';
import type { Opened } from './opened.js';
import { anyNumber, aside, onlyInPrint } from './unsettled.js';

const endings: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpeg',
  'image/gif': 'gif',
  'image/webp': 'webp',
};

/** The file that is written into, and what all who write into it need to know. */
export class Target {
  readonly #people: Map<string, Person>;
  readonly #signed = new Map<string, { said: string; person: string }>();
  readonly #pictures = new Map<string, string>();
  readonly #pieces = new Map<string, readonly Piece[]>();
  /** Relationships that come new into a part. */
  readonly added = new Map<string, { id: string; type: string; target: string; external: boolean }[]>();
  /** Pictures that come new into the file, by the names of their parts. */
  readonly media = new Map<string, Uint8Array>();

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    readonly fragments: Readonly<Record<string, Fragment>>,
    people: readonly Person[],
    readonly assets: readonly Asset[],
    /** Which pictures are parts of the file already. */
    readonly partOf: Readonly<Record<string, string>>,
    /** Under what names the file knows people and changes. */
    readonly names: Pick<Origin, 'people' | 'changes'>,
    /** What names mean at the top of the main part. */
    readonly scope: Scope,
  ) {
    this.#people = new Map(people.map((person) => [person.id, person]));
  }

  nameOf = (id: string): string => this.#people.get(id)?.name ?? unnamed;
  initialsOf = (id: string): string => this.#people.get(id)?.initials ?? '?';

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
      found = [...elements(parseXml(`${open}${xml}</x>`, { prefixes }))].map((element) => ({
        element,
        xml: xml.slice(element.start - open.length, element.end - open.length),
      }));
      this.#pieces.set(name, found);
    }
    return found;
  }

  /** The attributes of every element that says who proposes something. */
  by({ author, date, change }: Signature): string {
    const key = `${author} ${date}`;
    let signed = this.#signed.get(key);
    if (!signed) {
      const said = { 'w:author': this.nameOf(author), 'w:date': date === noDate ? undefined : date };
      signed = { said: attributes(said), person: attributes({ 'tp:person': this.personName(author) }) };
      this.#signed.set(key, signed);
    }
    // The id of a change holds no sign that would have to be written otherwise.
    return ` w:id="${anyNumber}"${signed.said}${aside(` tp:change="${this.names.changes[change] ?? change}"${signed.person}`)}`;
  }

  /** Under what name the file knows somebody; nothing for those it knows by what they are called only. */
  personName = (id: string): string | undefined =>
    Object.hasOwn(this.names.people, id) ? (this.names.people[id] ?? undefined) : id;

  /** Marks as an attribute of ours holds them; compared by all but the ids of people and changes. */
  told = (attribute: string, marks: readonly Mark[]): string => {
    const data = marks.map(({ type, attrs: { author, change, ...attrs } }) => ({
      ids: {
        author: this.personName(author as string),
        change: this.names.changes[change as string] ?? (change as string),
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

  /** The part with a picture, made where there is none; nothing where the picture is not here. */
  picturePart(asset: string): string | undefined {
    const known = this.partOf[asset] ?? this.#pictures.get(asset);
    const file = this.assets.find(({ id }) => id === asset);
    if (known !== undefined || !file) return known;
    const { main } = this.file;
    const stem = `${main.slice(0, main.lastIndexOf('/') + 1)}media/${asset}`;
    const ending = endings[file.type] ?? 'png';
    let name = `${stem}.${ending}`;
    for (let n = 2; this.file.has(name); n++) name = `${stem}-${n}.${ending}`;
    this.#pictures.set(asset, name);
    this.media.set(name, file.bytes);
    return name;
  }

  /** Properties with pictures by their parts, which every reader of the file knows. */
  #byPart(properties: Properties): Properties {
    if (typeof properties.asset !== 'string') return properties;
    const name = this.picturePart(properties.asset);
    // A part that nothing leads to would be left behind by other programs.
    if (name !== undefined) this.relate(this.file.main, 'image', name, false);
    return name === undefined ? properties : { ...properties, asset: `part:${name}` };
  }

  /** The relationship of a part to a target, made where there is none. */
  relate(part: string, type: string, target: string, external: boolean): string {
    const known = this.file
      .relationships(part)
      .find((one) => one.type === type && one.target === target && one.external === external);
    if (known) return known.id;
    const added = this.added.get(part) ?? [];
    this.added.set(part, added);
    let made = added.find((one) => one.type === type && one.target === target);
    if (!made) {
      const taken = new Set(this.file.relationships(part).map(({ id }) => id));
      let n = added.length + 1;
      while (taken.has(`rTp${n}`)) n++;
      while (added.some(({ id }) => id === `rTp${n}`)) n++;
      made = { id: `rTp${n}`, type, target, external };
      added.push(made);
    }
    return made.id;
  }
}

/** Attributes as they stand in a start tag. */
export const attributes = (named: Record<string, string | number | undefined>): string => tag('x', named).slice(2, -2);

/** An element whose attributes are written already. */
export const element = (name: string, attributes: string, content = ''): string =>
  content ? `<${name}${attributes}>${content}</${name}>` : `<${name}${attributes}/>`;
