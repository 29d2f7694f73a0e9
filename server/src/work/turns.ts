/** Work for one manuscript: one after the other, and what can be done together at once. */
export class Turns<Item> {
  readonly #waiting: ({ item: Item } | { alone: () => Promise<void> })[] = [];
  #busy = false;

  /**
   * @param together does what has been waiting side by side
   * @param most how much of that in one go
   * @param atRest is told when nothing waits any more
   */
  constructor(
    private readonly together: (items: Item[]) => Promise<void>,
    private readonly most: number,
    private readonly atRest?: () => void,
  ) {}

  add(item: Item): void {
    this.#waiting.push({ item });
    void this.#run();
  }

  /** Work that needs the manuscript for itself. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      this.#waiting.push({ alone: () => work().then(resolve, reject) });
      void this.#run();
    });
  }

  async #run(): Promise<void> {
    if (this.#busy) return;
    this.#busy = true;
    for (let next = this.#waiting[0]; next; next = this.#waiting[0]) {
      if ('alone' in next) {
        this.#waiting.shift();
        await next.alone();
        continue;
      }
      let n = 0;
      while (n < this.most && n < this.#waiting.length && 'item' in this.#waiting[n]!) n++;
      await this.together(this.#waiting.splice(0, n).map((one) => (one as { item: Item }).item));
    }
    this.#busy = false;
    this.atRest?.();
  }
}

/** Work of many, one after the other for each key and side by side for several. */
export class TurnsOf {
  readonly #all = new Map<string, Turns<never>>();

  of<T>(key: string, work: () => Promise<T>): Promise<T> {
    let turns = this.#all.get(key);
    if (!turns) {
      turns = new Turns<never>(
        () => Promise.resolve(),
        1,
        () => void this.#all.delete(key),
      );
      this.#all.set(key, turns);
    }
    return turns.alone(work);
  }
}

/** Work of many people, one after the other and of each in turn: however much one asks for, that of others goes in between. */
export class FairTurns {
  readonly #all = new Turns<never>(() => Promise.resolve(), 1);
  readonly #people = new Map<string, { turns: Turns<never>; waiting: number }>();

  async of<T>(person: string, work: () => Promise<T>): Promise<T> {
    const own = this.#people.get(person) ?? { turns: new Turns<never>(() => Promise.resolve(), 1), waiting: 0 };
    this.#people.set(person, own);
    own.waiting++;
    try {
      return await own.turns.alone(() => this.#all.alone(work));
    } finally {
      if (!--own.waiting) this.#people.delete(person);
    }
  }
}
