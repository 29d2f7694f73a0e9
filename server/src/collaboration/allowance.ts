/** How many messages a connection may send: many at once, fewer in the long run. A token bucket. */
export class Allowance {
  #left: number;
  #at = Date.now();

  constructor(
    private readonly atOnce: number,
    private readonly perSecond: number,
  ) {
    this.#left = atOnce;
  }

  /** Takes one; what is left. Below zero it is used up, and grows no deeper than one more measure of it. */
  take(): number {
    const now = Date.now();
    this.#left = Math.min(this.atOnce, this.#left + ((now - this.#at) / 1000) * this.perSecond);
    this.#at = now;
    return (this.#left = Math.max(-this.atOnce, this.#left - 1));
  }
}
