import { attribute, elements, parseXml, tag, type Element } from '../xml.js';
import { abstractList, head, listXml, office, styleXml, wordType } from './blank.js';
import { namespaces, prefixes, styleNames } from './names.js';
import { relationshipsName, type Opened } from './opened.js';
import { extended, outline } from './start-tags.js';
import type { Target } from './target.js';

/** What the parts beside the text need besides, when something comes new into a file. */

/** Parts of a file that are written anew or come new; all others stay as they are. */
export class Additions {
  readonly parts = new Map<string, string | Uint8Array>();
  readonly #lists = new Map<string, { kind: 'bullet' | 'number'; id: number }>();
  #nextList: number | null = null;
  readonly #strict: boolean;

  constructor(
    readonly file: Opened,
    readonly target: Target,
    strict: boolean,
  ) {
    this.#strict = strict;
  }

  get #office() {
    return this.#strict ? 'http://purl.oclc.org/ooxml/officeDocument/relationships' : office;
  }

  #folder = () => this.file.main.slice(0, this.file.main.lastIndexOf('/') + 1);

  /** The part that the main text leads to by that type; a new name where there is none. */
  partName = (type: string): string => this.file.related(this.file.main, type) ?? `${this.#folder()}${type}.xml`;

  /** A part beside the text, as it is or as it was written. */
  put(type: string, xml: string): void {
    const name = this.partName(type);
    this.parts.set(name, xml);
    if (this.file.has(name)) return;
    const uri =
      type === 'commentsExtended'
        ? 'http://schemas.microsoft.com/office/2011/relationships/commentsExtended'
        : `${this.#office}/${type}`;
    const added = this.target.added.get(this.file.main) ?? [];
    added.push({ id: `rTp-${type}`, type: uri, target: name, external: false });
    this.target.added.set(this.file.main, added);
  }

  /** The number of a list of ours, made where it is first asked for. */
  list(kind: 'bullet' | 'number', index: number): number {
    const key = `${kind}:${index}`;
    const known = this.#lists.get(key);
    if (known) return known.id;
    if (this.#nextList === null) {
      const nums = [...elements(this.file.parsed(this.file.related(this.file.main, 'numbering')))];
      this.#nextList = nums.reduce((most, one) => Math.max(most, Number(attribute(one, 'w:numId')) || 0), 0) + 1;
    }
    const id = this.#nextList++;
    this.#lists.set(key, { kind, id });
    return id;
  }

  /** Puts the lists into the part with the numbering: definitions before lists (17.9.16). */
  numbering(): void {
    if (!this.#lists.size) return;
    const source =
      this.file.text(this.file.related(this.file.main, 'numbering')) ?? head + tag('w:numbering', namespaces);
    const { root, children } = outline(source);
    const own = new Map<string, number>();
    let most = -1;
    for (const one of children) {
      if (one.name !== 'w:abstractNum') continue;
      const id = Number(attribute(one, 'w:abstractNumId'));
      most = Math.max(most, id || 0);
      const kind = attribute(one, 'tp:own');
      if (kind) own.set(kind, id);
    }
    let definitions = '';
    let lists = '';
    for (const { kind, id } of this.#lists.values()) {
      let abstract = own.get(kind);
      if (abstract === undefined) {
        own.set(kind, (abstract = ++most));
        definitions += abstractList(kind, abstract);
      }
      lists += listXml(kind, id, abstract);
    }
    const last = children.findLast(({ name }) => name === 'w:num');
    const whole = extended(source, root, '');
    // What comes new stands behind what is there, each kind behind its own.
    const inner = children.findLast(({ name }) => name === 'w:abstractNum' || name === 'w:numPicBullet');
    const inside = whole.indexOf('>', root.start) + 1;
    const at = (element: Element | undefined) => (element ? element.end - root.inside + inside : inside);
    const first = at(inner);
    const second = Math.max(first, last ? at(last) : first);
    this.put(
      'numbering',
      whole.slice(0, first) + definitions + whole.slice(first, second) + lists + whole.slice(second),
    );
  }

  /** Our styles that the text uses and the file has not. */
  styles(used: ReadonlySet<string>): void {
    const missing = [...used].filter((style) => styleNames[style] && !this.target.definitions.idOf(style as 'title'));
    if (!missing.length) return;
    const source = this.file.text(this.file.related(this.file.main, 'styles')) ?? head + tag('w:styles', namespaces);
    const { root } = outline(source);
    this.put('styles', extended(source, root, missing.map(styleXml).join('')));
  }

  /** Relationships and types of what came new. */
  finish(): void {
    for (const [name, bytes] of this.target.media) this.parts.set(name, bytes);
    for (const [part, added] of this.target.added) {
      if (!added.length || (part !== this.file.main && !this.file.has(part) && !this.parts.has(part))) continue;
      const folder = part.slice(0, part.lastIndexOf('/') + 1);
      const more = added
        .map(({ id, type, target, external }) =>
          tag('Relationship', {
            Id: id,
            Type: type.includes('/') ? type : `${this.#office}/${type}`,
            Target: external ? target : target.startsWith(folder) ? target.slice(folder.length) : `/${target}`,
            TargetMode: external ? 'External' : undefined,
          }),
        )
        .join('');
      const name = this.file.nameOf(relationshipsName(part)) ?? relationshipsName(part);
      this.parts.set(name, appended(this.file.text(name) ?? blankRelationships, more));
    }
    this.#types();
  }

  #types(): void {
    const name = this.file.nameOf('[Content_Types].xml') ?? '[Content_Types].xml';
    const source = this.file.text(name);
    if (source === undefined) return;
    const known = [...elements(parseXml(source, { prefixes }))];
    const has = (key: string, value: string) =>
      known.some((one) => (attribute(one, key) ?? '').toLowerCase() === value.toLowerCase());
    let more = '';
    for (const part of this.parts.keys()) {
      if (this.file.has(part) || part.endsWith('.rels')) continue;
      const type = /^.*\/(comments|commentsExtended|footnotes|endnotes|numbering|settings|styles)\.xml$/.exec(
        part,
      )?.[1];
      const extension = part.slice(part.lastIndexOf('.') + 1);
      if (type && !has('PartName', `/${part}`))
        more += tag('Override', { PartName: `/${part}`, ContentType: `${wordType}.${type}+xml` });
      else if (!type && !has('Extension', extension) && !more.includes(`Extension="${extension}"`))
        more = tag('Default', { Extension: extension, ContentType: `image/${extension}` }) + more;
    }
    if (more) this.parts.set(name, appended(source, more));
  }
}

const blankRelationships =
  head + tag('Relationships', { xmlns: 'http://schemas.openxmlformats.org/package/2006/relationships' });

/** A part of the package’s own kind with more before its end. */
function appended(source: string, more: string): string {
  const root = parseXml(source, { prefixes });
  const start = source.slice(root.start, root.inside);
  const name = /^<([^\s/>]+)/.exec(start)![1]!;
  if (start.endsWith('/>'))
    return `${source.slice(0, root.start)}${start.replace(/\s*\/>$/, '>')}${more}</${name}>${source.slice(root.end)}`;
  const close = source.lastIndexOf('</', root.end - 1);
  return source.slice(0, close) + more + source.slice(close);
}
