import { percentile } from './writers.mjs';

/** How long some work takes, in milliseconds: the median of several rounds. */
export async function timed(work, rounds = 9) {
  const times = [];
  for (let i = 0; i < rounds; i++) {
    const began = performance.now();
    await work();
    times.push(performance.now() - began);
  }
  return percentile(times, 0.5);
}
