/** What is said again and again to the same people. */
interface Said {
  /** How often it was said lately; one less for each pause that passes. */
  often: number;
  again: (() => void) | null;
}

/**
 * Says things at once, and no oftener in the long run than once in a pause: what is said again too soon is said once, when
 * it may be. Whoever hears it asks for all that has changed; said as often as one person can make it change, that would
 * take up what the others may ask for.
 */
export class Calmly {
  readonly #said = new Map<string, Said>();

  /**
   * @param pause in milliseconds
   * @param burst how often it may be said before there are pauses
   */
  constructor(
    private readonly pause: number,
    private readonly burst: number,
  ) {}

  /** @param what is the same thing where it is the same text */
  say(what: string, say: () => void): void {
    const said = this.#said.get(what) ?? this.#begin(what);
    if (said.often >= this.burst) return void (said.again = say);
    said.often++;
    say();
  }

  #begin(what: string): Said {
    const said: Said = { often: 0, again: null };
    this.#said.set(what, said);
    const timer = setInterval(() => {
      const { again } = said;
      said.again = null;
      if (again) again();
      else said.often--;
      if (said.often) return;
      this.#said.delete(what);
      clearInterval(timer);
    }, this.pause).unref();
    return said;
  }
}
