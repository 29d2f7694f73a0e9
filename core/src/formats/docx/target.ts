import type { Person } from '../../manuscript/people.js';
import type { Fragment, Origin } from '../../manuscript/origin.js';
import { noDate, type Signature } from '../../manuscript/signature.js';
import type { Asset } from '../../manuscript/manuscript.js';
import type { Scope } from '../xml.js';
import type { Definitions } from './definitions.js';
import { prefixes } from './names.js';
import type { Opened } from './opened.js';
import { pictureEndings } from '../kept/pictures.js';
import { attributes, Telling } from '../kept/telling.js';
import { anyNumber, aside } from '../kept/unsettled.js';

/** The file that is written into, and what all who write into it need to know. */
export class Target extends Telling {
  readonly #signed = new Map<string, { said: string; person: string }>();
  readonly #pictures = new Map<string, string>();
  /** Relationships that come new into a part. */
  readonly added = new Map<string, { id: string; type: string; target: string; external: boolean }[]>();
  /** Pictures that come new into the file, by the names of their parts. */
  readonly media = new Map<string, Uint8Array>();

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    fragments: Readonly<Record<string, Fragment>>,
    people: readonly Person[],
    readonly assets: readonly Asset[],
    /** Which pictures are parts of the file already. */
    readonly partOf: Readonly<Record<string, string>>,
    names: Pick<Origin, 'people' | 'changes'>,
    scope: Scope,
  ) {
    super(people, names, fragments, scope, prefixes);
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
    return ` w:id="${anyNumber}"${signed.said}${aside(` tp:change="${this.changeName(change)}"${signed.person}`)}`;
  }

  /** The part with a picture, made where there is none; nothing where the picture is not here. */
  picturePart(asset: string): string | undefined {
    const known = this.partOf[asset] ?? this.#pictures.get(asset);
    const file = this.assets.find(({ id }) => id === asset);
    if (known !== undefined || !file) return known;
    const { main } = this.file;
    const stem = `${main.slice(0, main.lastIndexOf('/') + 1)}media/${asset}`;
    const ending = pictureEndings[file.type] ?? 'png';
    let name = `${stem}.${ending}`;
    for (let n = 2; this.file.has(name); n++) name = `${stem}-${n}.${ending}`;
    this.#pictures.set(asset, name);
    this.media.set(name, file.bytes);
    return name;
  }

  protected leadTo(asset: string): string | undefined {
    const name = this.picturePart(asset);
    // A part that nothing leads to would be left behind by other programs.
    if (name !== undefined) this.relate(this.file.main, 'image', name, false);
    return name;
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
