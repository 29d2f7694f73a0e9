import type { Loss } from '../../manuscript/manuscript.js';
import { xmlText } from '../package.js';
import { Tally } from '../kept/tally.js';
import { barePicture } from './pictures.js';

/** What a file that is given out may be made without: what names people, and what runs or reaches outside. */

export type OutgoingParts = Map<string, string | Uint8Array>;

/** What a copy is to be without. */
export interface Without {
  /** What names people: properties, data in pictures, small views of the first page, numbers of editing sessions. */
  nameless?: boolean;
  /** What runs when the file is opened, or fetches something from elsewhere. */
  inert?: boolean;
}

/** A file as it goes out, and what was left out of it. */
export interface Outgoing {
  parts: OutgoingParts;
  left: Loss[];
}

const isPicture = /\.(png|jpe?g|gif|webp)$/i;

/** The parts of one file being made ready to go out. */
export class Leaving {
  readonly parts: OutgoingParts;
  readonly #tally = new Tally();

  constructor(parts: OutgoingParts) {
    this.parts = new Map(parts);
  }

  left = (): Loss[] => this.#tally.list();
  note = (what: string, where: 'names' | 'active'): void => this.#tally.add(what, where);

  text(name: string): string {
    const content = this.parts.get(name)!;
    return typeof content === 'string' ? content : xmlText(content);
  }

  /** Changes the XML of a part, where the function changes anything. */
  edit(name: string, change: (xml: string) => string): void {
    const before = this.text(name);
    const after = change(before);
    if (after !== before) this.parts.set(name, after);
  }

  /** Replaces what an expression finds in XML, and notes each. */
  replaced(xml: string, find: RegExp, by: string, what: string, where: 'names' | 'active'): string {
    return xml.replace(find, () => {
      this.note(what, where);
      return by;
    });
  }

  /** Takes what pictures say besides the picture off them. */
  pictures(): void {
    for (const [name, content] of this.parts) {
      if (typeof content === 'string' || !isPicture.test(name)) continue;
      const bare = barePicture(content);
      if (bare === content) continue;
      this.parts.set(name, bare);
      this.note('data in a picture besides the picture', 'names');
    }
  }
}

/** Where a file holds what runs when it is opened, or fetches something from elsewhere, as lists of what it carries say it. */
export const runsOrReachesOutside = 'what runs or reaches outside';

/** Addresses that run something instead of leading somewhere. */
export const runs = /^\s*(javascript|vbscript|data|file):/i;
