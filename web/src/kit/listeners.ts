/** Those who are told when something happens. */
export class Listeners<What extends readonly unknown[] = []> {
  readonly #all = new Set<(...what: What) => void>();

  /** @returns ends it */
  add = (listener: (...what: What) => void): (() => void) => {
    this.#all.add(listener);
    return () => this.#all.delete(listener);
  };

  tell(...what: What): void {
    for (const listener of this.#all) listener(...what);
  }
}
