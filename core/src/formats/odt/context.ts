import type { Signature } from '../../manuscript/signature.js';
import type { Thread } from '../../manuscript/threads.js';
import { isChangeId, isPersonId } from '../../manuscript/values.js';
import { FileContext } from '../kept/context.js';
import { dateOf } from '../kept/moments.js';
import { assetIn } from '../kept/pictures.js';
import { attribute, child, sliceOf, textOf, type Element, type Scope } from '../xml.js';
import type { Definitions } from './definitions.js';
import type { Opened } from './opened.js';

/** What the readers of an ODT file share. */

/** Something that was changed, as the list of changes has it (OpenDocument 1.3 part 3, 5.5.3). */
export interface Region {
  kind: 'insertion' | 'deletion' | 'format-change';
  element: Element;
  author: string;
  date: string;
  /** The change it is part of, once that is known. */
  change: string | undefined;
  /** Whether what was deleted has been read; it stands in one place only. */
  read: boolean;
}

const kinds: Record<string, Region['kind']> = {
  'text:insertion': 'insertion',
  'text:deletion': 'deletion',
  'text:format-change': 'format-change',
};

/** What an element of ours says of a change. */
const changeName = (element: Element): string | undefined => {
  const named = attribute(element, 'tp:change');
  return isChangeId(named) ? named : undefined;
};

export class Context extends FileContext {
  readonly regions = new Map<string, Region>();
  readonly threads: Thread[] = [];
  /** The change of the token before, which the next one continues if author and date are the same. */
  #last: Signature | null = null;

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    /** Where names mean what they mean at the top of the text. */
    readonly base: () => Scope,
    named: ReadonlySet<string>,
  ) {
    super(named);
  }

  slice = (element: Element): string => sliceOf(element, this.file.content, this.base());

  /** The picture of a part; of a file in one piece, the one that bears that name. */
  picture = (part: string): string | null => {
    const known = [...this.partOf].find(([, one]) => one === part);
    return known ? known[0] : this.addPicture(part, this.file.parts.get(part));
  };

  addPicture(part: string, bytes: Uint8Array | undefined): string | null {
    return assetIn(this, part, bytes);
  }

  /** Who did something and when, by the elements that say it (dc:creator, dc:date). */
  signed(element: Element | undefined, own: Element): { author: string; date: string } {
    const person = attribute(own, 'tp:person');
    const author = this.people.of(
      textOf(child(element, 'dc:creator')),
      textOf(child(element, 'meta:creator-initials')),
      isPersonId(person) ? person : undefined,
    );
    return { author, date: dateOf(textOf(child(element, 'dc:date')).trim()) };
  }

  /** Takes in the list of what was changed (5.5.1). */
  readRegions(list: Element): void {
    for (const region of list.children) {
      if (typeof region === 'string') continue;
      const element = region.children.find((one): one is Element => typeof one !== 'string' && !!kinds[one.name]);
      const id = attribute(region, 'xml:id') ?? attribute(region, 'text:id');
      if (!element || id === undefined || this.regions.has(id)) continue;
      const info = child(element, 'office:change-info');
      const by = this.signed(info, region);
      if (child(info, 'text:p')) this.losses.add('comment that a change bears', 'changes');
      const { name } = element;
      this.regions.set(id, { kind: kinds[name]!, element, ...by, change: changeName(region), read: false });
    }
  }

  region = (element: Element): Region | undefined => this.regions.get(attribute(element, 'text:change-id') ?? '');

  /** What comes next continues no change. */
  apart = (): null => (this.#last = null);

  /** The change something is part of: the one it names, or the neighbouring one of the same author and date. */
  change(region: Region): Signature {
    const { author, date } = region;
    const continues = this.#last?.author === author && this.#last.date === date;
    const change = (region.change ??= continues ? this.#last!.change : this.newChange());
    return (this.#last = { change, author, date });
  }
}
