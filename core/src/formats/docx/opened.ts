import { unpack, xmlText, type Parts } from '../package.js';
import { UnreadableFile } from '../unreadable.js';
import { attribute, elements, parseXml, type Element } from '../xml.js';
import { prefixes } from './names.js';

/** A package of parts and the relationships that lead from one to another (ISO/IEC 29500-2, clauses 6 and 7). */

export interface Relationship {
  id: string;
  /** The last word of its type, which is the same in both conformance classes: `styles`, `image`, `hyperlink`. */
  type: string;
  /** As it stands there; of a part of the package, the part's name. */
  target: string;
  external: boolean;
}

const folderOf = (name: string) => name.slice(0, name.lastIndexOf('/') + 1);

/** The name of the part that holds a part's relationships (clause 6.5.2.4). */
export const relationshipsName = (part: string): string =>
  `${folderOf(part)}_rels/${part.slice(folderOf(part).length)}.rels`;

/** A reference resolved against the folder of the part it stands in (RFC 3986, 5.2); it never leads out of the package. */
function resolved(target: string, folder: string): string {
  const path: string[] = target.startsWith('/') ? [] : folder.split('/').filter(Boolean);
  for (const step of target.split('/')) {
    if (step === '..') path.pop();
    else if (step && step !== '.') path.push(step);
  }
  return path.join('/');
}

export class Opened {
  readonly #related = new Map<string, Relationship[]>();
  readonly #byName: Map<string, string>;
  /** The name of the part with the main text. */
  readonly main: string;

  /** @throws UnreadableFile where it is no package of this kind */
  constructor(readonly parts: Parts) {
    // Names of parts are the same whatever their case (clause 6.2.2.3).
    this.#byName = new Map([...parts.keys()].map((name) => [name.toLowerCase().replace(/^\//, ''), name]));
    // What is not read now will be when the file is written again.
    for (const name of parts.keys()) if (name === '[Content_Types].xml' || name.endsWith('.rels')) this.parsed(name);
    const main =
      this.related('', 'officeDocument') ?? (this.has('word/document.xml') ? 'word/document.xml' : undefined);
    if (main === undefined) throw new UnreadableFile('is not a DOCX file: it has no main text');
    this.main = main;
  }

  nameOf = (name: string): string | undefined => this.#byName.get(name.toLowerCase());
  has = (name: string): boolean => this.nameOf(name) !== undefined;
  bytes = (name: string): Uint8Array | undefined => this.parts.get(this.nameOf(name) ?? '');

  text(name: string | undefined): string | undefined {
    const bytes = name === undefined ? undefined : this.bytes(name);
    return bytes && xmlText(bytes);
  }

  /** A small part, parsed as a whole. */
  parsed(name: string | undefined): Element | undefined {
    const text = this.text(name);
    return text === undefined ? undefined : parseXml(text, { prefixes });
  }

  /** A small part that only tells something of the file; undefined also where it is broken. */
  told(part: string, type: string): Element | undefined {
    try {
      return this.parsed(this.related(part, type));
    } catch (problem) {
      if (problem instanceof UnreadableFile) return undefined;
      throw problem;
    }
  }

  /** The relationships of a part; of the package itself for the empty name. */
  relationships(part: string): readonly Relationship[] {
    let found = this.#related.get(part);
    if (!found) {
      found = [];
      for (const element of elements(this.parsed(relationshipsName(part)))) {
        const external = attribute(element, 'TargetMode') === 'External';
        const target = attribute(element, 'Target') ?? '';
        found.push({
          id: attribute(element, 'Id') ?? '',
          type: (attribute(element, 'Type') ?? '').replace(/^.*\//, ''),
          target: external
            ? target
            : (this.nameOf(resolved(target, folderOf(part))) ?? resolved(target, folderOf(part))),
          external,
        });
      }
      this.#related.set(part, found);
    }
    return found;
  }

  /** The first part that a part leads to by a relationship of that type, if it is there. */
  related(part: string, type: string): string | undefined {
    const found = this.relationships(part).find((one) => one.type === type && !one.external);
    return found && this.has(found.target) ? found.target : undefined;
  }

  relationship = (part: string, id: string | undefined): Relationship | undefined =>
    this.relationships(part).find((one) => one.id === id);
}

/** @throws UnreadableFile with the reason */
export const openDocx = (bytes: Uint8Array): Opened => new Opened(unpack(bytes));
