import { setImmediate } from 'node:timers/promises';

/** How long one may go on before others are let through, in milliseconds. */
const breath = 12;

/** Work in parts: between two of them, others are let through where it has taken long. */
export async function breathing<T>(work: Generator<undefined, T>): Promise<T> {
  let began = performance.now();
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    if (performance.now() - began < breath) continue;
    await setImmediate();
    began = performance.now();
  }
}
