import type { Asset } from '../../manuscript/manuscript.js';
import type { Fragment, OdtFrame, Origin } from '../../manuscript/origin.js';
import type { Person } from '../../manuscript/people.js';
import type { Signature } from '../../manuscript/signature.js';
import { pictureEndings } from '../kept/pictures.js';
import { Telling, attributes, element } from '../kept/telling.js';
import { aside, elsewhere } from '../kept/unsettled.js';
import { escapeXml, tag, type Element } from '../xml.js';
import type { Definitions } from './definitions.js';
import { prefixes } from './names.js';
import type { Opened } from './opened.js';

/** The attribute by which something has a style, of which it may not be known yet what it will be called. */
export const styled = (name: string | undefined): string =>
  name === undefined ? '' : ` text:style-name="${name.startsWith('\u0004') ? name : escapeXml(name)}"`;

/** The file that is written into, and what all who write into it need to know. */
export class Target extends Telling {
  readonly #pictures = new Map<string, string>();
  /** Pictures that come new into the file, by the names of their parts. */
  readonly media = new Map<string, Asset>();
  /** Automatic styles that are needed, each once and without its name. */
  readonly styles: { family: string; xml: string }[] = [];
  readonly #styles = new Map<string, number>();
  /** What was changed, as the list of changes has it; under a number each. */
  readonly regions: string[] = [];

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    fragments: Readonly<Record<string, Fragment>>,
    people: readonly Person[],
    readonly assets: readonly Asset[],
    /** Which pictures are parts of the file already. */
    readonly partOf: Readonly<Record<string, string>>,
    names: Pick<Origin, 'people' | 'changes'>,
    frame: OdtFrame,
  ) {
    super(people, names, fragments, { bound: frame.root.bound, depth: 0 }, prefixes);
  }

  /** What a paragraph, or something in a table, said of itself in its file. */
  came(name: unknown, wanted: string): Element | null {
    const [piece] = this.pieces((name ?? null) as string | null);
    return piece?.element.name === wanted ? piece.element : null;
  }

  /** The name of an automatic style that says this, whatever it will be called. */
  style(family: string, xml: string): string {
    let index = this.#styles.get(xml);
    if (index === undefined) this.#styles.set(xml, (index = this.styles.push({ family, xml }) - 1));
    return elsewhere('style', index);
  }

  /** Who did something and when (part 3, 3.1, 4.3.2): the elements that say it. */
  by({ author, date }: Pick<Signature, 'author' | 'date'>): string {
    return tag('dc:creator', {}, escapeXml(this.nameOf(author))) + tag('dc:date', {}, date);
  }

  /** The attributes by which only we know a change and its author again. */
  ids = ({ author, change }: Signature): string =>
    aside(attributes({ 'tp:person': this.personName(author), 'tp:change': this.changeName(change) }));

  /**
   * Puts something on the list of what was changed.
   * @param own attributes of ours
   * @param content what was deleted
   * @returns under what name, as `text:change-id` says it
   */
  region(kind: string, signature: Signature, own = '', content = ''): string {
    const info = tag('office:change-info', {}, this.by(signature));
    const xml = element(`text:${kind}`, own, info + content);
    const id = elsewhere('region', this.regions.length);
    this.regions.push(
      element('text:changed-region', ` xml:id="${aside(id)}" text:id="${aside(id)}"${this.ids(signature)}`, xml),
    );
    return id;
  }

  /** The part with a picture, made where there is none; nothing where the picture is not here. */
  picturePart(asset: string): string | undefined {
    const known = this.partOf[asset] ?? this.#pictures.get(asset);
    const file = this.assets.find(({ id }) => id === asset);
    if (known !== undefined || !file) return known;
    const ending = pictureEndings[file.type] ?? 'png';
    let name = `Pictures/${asset}.${ending}`;
    for (let n = 2; this.file.parts.has(name); n++) name = `Pictures/${asset}-${n}.${ending}`;
    this.#pictures.set(asset, name);
    this.media.set(name, file);
    return name;
  }

  /** The parts of pictures that only changes speak of, as far as is known. */
  readonly spokenOf = new Map<string, string>();

  protected leadTo = (asset: string): string | undefined => {
    const part = this.picturePart(asset);
    if (part !== undefined) this.spokenOf.set(part, asset);
    return part;
  };
}
