import type { Missed } from '@tea-pencil/wire';

/** How long what others do waits: at least, and as a multiple of what taking in took the last time. */
const pauses = { least: 250, share: 4 };

/** What others did and is not taken in yet: all of it together, before long. */
export class HeldSteps {
  #all: Missed[] = [];
  /** How long taking in took the last time, in milliseconds. */
  #took = 0;

  /** @param work takes in steps of many messages as if they were of one */
  constructor(readonly work: (missed: Missed) => void) {}

  /** The version that the last of them lead to; null where there are none. */
  get end(): number | null {
    const last = this.#all.at(-1);
    return last ? last.version + last.steps.length : null;
  }

  add(message: Missed): void {
    this.#all.push(message);
    if (this.#all.length > 1) return;
    setTimeout(() => this.takeIn(), Math.max(pauses.least, pauses.share * this.#took));
  }

  takeIn(): void {
    const [first] = this.#all;
    if (!first) return;
    const steps = this.#all.flatMap((one) => one.steps);
    const clients = this.#all.flatMap((one) => one.clients);
    this.forget();
    const began = performance.now();
    this.work({ version: first.version, steps, clients });
    this.#took = performance.now() - began;
  }

  forget(): void {
    this.#all = [];
  }
}
