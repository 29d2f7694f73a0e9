/** Why something is not taken on: its person has enough waiting, everyone together has, or it waited too long. */
export type Busy = 'enough of one' | 'enough of all' | 'waited too long';

export class NotTakenOn extends Error {
  constructor(readonly because: Busy) {
    super(`Not taken on: ${because}.`);
  }
}

interface Waiting {
  of: string;
  begin(): void;
}

/** How much is done and waits at once. */
export interface Room {
  /** How many pieces are done side by side. */
  together: number;
  /** How many pieces one person may have here, done and waiting; and all together. */
  ofOne: number;
  ofAll: number;
  /** How long a piece waits at most, in milliseconds. */
  patience: number;
}

/**
 * Work of many people: of each one piece at a time, and who had a turn longest ago, or none yet, comes before the others.
 * So nobody takes all places, and nobody can fill the memory with what waits.
 */
export class Queue {
  readonly #waiting: Waiting[] = [];
  readonly #under = new Set<string>();
  /** When those who are here had their last turn, as a number that counts up. */
  readonly #turns = new Map<string, number>();
  #count = 0;

  constructor(private readonly room: Room) {}

  /** How many pieces are done before the one this person has waiting; null where none of theirs waits. */
  ahead(of: string): number | null {
    if (!this.#waiting.some((one) => one.of === of)) return null;
    const order = this.#order();
    return order.slice(0, order.indexOf(of)).filter((one) => !this.#under.has(one)).length + this.#under.size;
  }

  /** How many pieces are done just now, and how many wait. */
  load = (): { under: number; waiting: number } => ({ under: this.#under.size, waiting: this.#waiting.length });

  /** @throws NotTakenOn where there is no room, or not in time; the work has not begun then */
  async run<T>(of: string, work: () => Promise<T>, stop?: AbortSignal): Promise<T> {
    const theirs = this.#waiting.filter((one) => one.of === of).length + Number(this.#under.has(of));
    if (theirs >= this.room.ofOne) throw new NotTakenOn('enough of one');
    if (this.#waiting.length + this.#under.size >= this.room.ofAll) throw new NotTakenOn('enough of all');
    await this.#turn(of, stop);
    try {
      return await work();
    } finally {
      this.#under.delete(of);
      this.#forget(of);
      this.#next();
    }
  }

  /** Who has nothing here any more begins anew. */
  #forget(of: string): void {
    if (!this.#under.has(of) && !this.#waiting.some((one) => one.of === of)) this.#turns.delete(of);
  }

  /** Whose pieces wait, in the order in which they have their turns. */
  #order(): string[] {
    const people = [...new Set(this.#waiting.map(({ of }) => of))];
    const last = (one: string) => this.#turns.get(one) ?? 0;
    return people.sort((a, b) => last(a) - last(b)); // stable: of those who had none yet, who came first
  }

  #turn(of: string, stop?: AbortSignal): Promise<void> {
    return new Promise((resolve, reject) => {
      const leave = () => {
        const place = this.#waiting.indexOf(one);
        if (place < 0) return;
        this.#waiting.splice(place, 1);
        clearTimeout(late);
        this.#forget(of);
        reject(new NotTakenOn('waited too long'));
      };
      const late = setTimeout(leave, this.room.patience).unref();
      stop?.addEventListener('abort', leave, { once: true });
      const one: Waiting = {
        of,
        begin: () => {
          clearTimeout(late);
          stop?.removeEventListener('abort', leave);
          resolve();
        },
      };
      this.#waiting.push(one);
      this.#next();
    });
  }

  #next(): void {
    while (this.#under.size < this.room.together) {
      const person = this.#order().find((one) => !this.#under.has(one));
      const place = this.#waiting.findIndex(({ of }) => of === person);
      const [one] = place < 0 ? [] : this.#waiting.splice(place, 1);
      if (!one) return;
      this.#under.add(one.of);
      this.#turns.set(one.of, ++this.#count);
      one.begin();
    }
  }
}
