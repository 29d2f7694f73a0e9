import { useCallback, useEffect, useState } from 'react';
import { useHandler } from './use-handler';

/**
 * Does something once nothing has asked for it in a while. Where it is asked for without a pause, as where several people
 * write, it is done all the same: whoever waits for it is never waiting for them.
 */
export class Soon {
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** When it was asked for first, of what is not done yet. */
  #since: number | null = null;

  /** @param longest how long it may wait however often it is asked for, in milliseconds */
  constructor(
    private readonly act: () => void,
    private readonly longest: number,
  ) {}

  /** @param pause for how long nobody may have asked again, in milliseconds */
  ask(pause: number): void {
    const now = performance.now();
    this.#since ??= now;
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.#done(), Math.min(pause, this.#since + this.longest - now));
  }

  #done(): void {
    this.#since = null;
    this.act();
  }

  /** It is not done any more. */
  forget(): void {
    clearTimeout(this.#timer);
    this.#since = null;
  }
}

/** Asks for something that is done soon, as the newest drawing would do it; see `Soon`. @returns asks for it */
export function useSoon(act: () => void, longest: number): (pause: number) => void {
  const run = useHandler(act);
  const [soon] = useState(() => new Soon(run, longest));
  useEffect(() => () => soon.forget(), [soon]);
  return useCallback((pause) => soon.ask(pause), [soon]);
}
