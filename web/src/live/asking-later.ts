/** How long a server that cannot keep anything is left alone, in milliseconds: at first, and at most where it says so often. */
const pauses = { first: 1500, longest: 15_000, soon: 4 };

/** Asks again what a server could not do just now: soon at first, less often where it goes on saying so. */
export class AskingLater {
  #times = 0;

  /** @param isWorthwhile whether it can be asked at all when the pause is over */
  constructor(readonly isWorthwhile: () => boolean) {}

  again(work: () => Promise<void>): void {
    const pause = Math.min(pauses.longest, pauses.first * 2 ** Math.max(0, this.#times++ - pauses.soon));
    setTimeout(() => this.isWorthwhile() && void work(), pause);
  }

  /** It has done something. */
  done(): void {
    this.#times = 0;
  }
}
