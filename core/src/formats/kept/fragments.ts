import type { Fragment } from '../../manuscript/origin.js';

/** XML of a file that stands beside the text, by names made from what it is, so that the same file gives the same names. */

/** A number of 53 bits that a text gives: two multiplications of 32 bits with other constants, mixed. */
export function numberOf(text: string): number {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 2654435761);
    b = Math.imul(b ^ code, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return 4294967296 * (2097151 & b) + (a >>> 0);
}

export class Fragments {
  readonly all: Record<string, Fragment> = {};
  readonly #names = new Map<string, string>();

  /** The name of a fragment; the same for the same one, and never that of another. */
  nameOf(fragment: Fragment): string {
    const whole = fragment.close === undefined ? fragment.xml : `${fragment.xml}\u0000${fragment.close}`;
    const known = this.#names.get(whole);
    if (known !== undefined) return known;
    const made = numberOf(whole).toString(36);
    let name = made;
    for (let n = 2; Object.hasOwn(this.all, name); n++) name = `${made}-${n}`;
    this.all[name] = fragment;
    this.#names.set(whole, name);
    return name;
  }

  /** The name of some XML, or null where there is none. */
  named = (xml: string): string | null => (xml ? this.nameOf({ xml }) : null);
}
