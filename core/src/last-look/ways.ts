import type { Written } from './checks/signs.js';

/** Something that a text writes in two ways or more. */
export interface Inconsistency {
  such: string;
  what: string;
  /** How often it is written in each way, the most frequent first. */
  forms: { form: string; many: number }[];
}

interface Ways {
  what: string;
  forms: Map<string, number>;
}

/** Which ways of writing there are in a text, kept up as its blocks come and go. */
export class AllWays {
  readonly #all = new Map<string, Ways>();
  readonly #several = new Set<string>();

  add(written: readonly Written[]): void {
    for (const { such, what, form } of written) {
      let ways = this.#all.get(such);
      if (!ways) this.#all.set(such, (ways = { what, forms: new Map() }));
      ways.forms.set(form, (ways.forms.get(form) ?? 0) + 1);
      if (ways.forms.size === 2) this.#several.add(such);
    }
  }

  remove(written: readonly Written[]): void {
    for (const { such, form } of written) {
      const ways = this.#all.get(such);
      const many = ways?.forms.get(form) ?? 0;
      if (!ways || !many) continue;
      if (many > 1) ways.forms.set(form, many - 1);
      else ways.forms.delete(form);
      if (ways.forms.size < 2) this.#several.delete(such);
      if (!ways.forms.size) this.#all.delete(such);
    }
  }

  /** What is written in several ways. */
  several(): Inconsistency[] {
    return [...this.#several]
      .map((such) => {
        const { what, forms } = this.#all.get(such)!;
        // Two ways that are as frequent stand in the order of the alphabet: it is the same each time one looks.
        const sorted = [...forms]
          .map(([form, many]) => ({ form, many }))
          .sort((a, b) => b.many - a.many || (a.form < b.form ? -1 : 1));
        return { such, what: such.startsWith('variants|compound') ? `“${sorted[0]!.form}”` : what, forms: sorted };
      })
      .sort((a, b) => (a.such < b.such ? -1 : 1));
  }
}
