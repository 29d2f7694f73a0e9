import type { Loss } from '../../manuscript/manuscript.js';

/** What was found of each kind, counted. */
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
