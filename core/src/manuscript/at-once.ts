/** Work that can be done in parts, so that others need not wait for all of it, done in one go. */
export function atOnce<T>(work: Generator<undefined, T>): T {
  let state = work.next();
  while (!state.done) state = work.next();
  return state.value;
}
