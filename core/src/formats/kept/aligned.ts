/** Which pieces of a file a text still has: those written alike, in their order. */

/** The longest ascending run of numbers, as indices (patience sorting). */
function ascending(values: readonly number[]): number[] {
  const tails: number[] = [];
  const before = new Array<number>(values.length).fill(-1);
  values.forEach((value, i) => {
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (values[tails[middle]!]! < value) low = middle + 1;
      else high = middle;
    }
    before[i] = low > 0 ? tails[low - 1]! : -1;
    tails[low] = i;
  });
  const run: number[] = [];
  for (let i = tails.at(-1) ?? -1; i >= 0; i = before[i]!) run.push(i);
  return run.reverse();
}

/**
 * For each piece of a text, which piece of the file is the same: first those of which there is one in both, in the order
 * of both; then their equal neighbours; then what stood elsewhere.
 * @param sources null for what can never be the same
 */
export function aligned(now: readonly string[], sources: readonly (string | null)[]): (number | null)[] {
  const places = new Map<string, number[]>();
  sources.forEach((print, i) => {
    if (print === null) return;
    const known = places.get(print);
    if (known) known.push(i);
    else places.set(print, [i]);
  });
  const counts = new Map<string, number>();
  for (const print of now) counts.set(print, (counts.get(print) ?? 0) + 1);
  const found = new Array<number | null>(now.length).fill(null);
  const used = new Set<number>();
  const take = (k: number, i: number) => {
    found[k] = i;
    used.add(i);
  };
  const single = now.flatMap((print, k) => (counts.get(print) === 1 && places.get(print)?.length === 1 ? [k] : []));
  const inOrder = ascending(single.map((k) => places.get(now[k]!)![0]!)).map((n) => single[n]!);
  for (const k of inOrder) take(k, places.get(now[k]!)![0]!);
  const same = (k: number, i: number) =>
    k >= 0 &&
    k < now.length &&
    found[k] === null &&
    i >= 0 &&
    i < sources.length &&
    !used.has(i) &&
    sources[i] === now[k];
  // From each end, and from each piece that is sure, on to its neighbours.
  for (let [k, i] = [0, 0]; same(k, i); k++, i++) take(k, i);
  for (let [k, i] = [now.length - 1, sources.length - 1]; same(k, i); k--, i--) take(k, i);
  for (const k of inOrder) for (let n = 1; same(k + n, found[k]! + n); n++) take(k + n, found[k]! + n);
  for (const k of [...inOrder].reverse()) for (let n = 1; same(k - n, found[k]! - n); n++) take(k - n, found[k]! - n);
  // What is left is taken in order between those that are sure; what stood elsewhere, from there.
  let last = -1;
  const next = new Array<number>(now.length);
  for (let k = now.length - 1, sure = sources.length; k >= 0; k--) {
    next[k] = sure;
    if (found[k] !== null) sure = Math.min(sure, found[k]!);
  }
  const onwards = new Map<string, number>();
  const first = new Map<string, number>();
  /** The first free place of a piece from where one last looked, past a limit. */
  const free = (print: string, past: number, cursors: Map<string, number>): number | undefined => {
    const all = places.get(print) ?? [];
    let at = cursors.get(print) ?? 0;
    while (at < all.length && (used.has(all[at]!) || all[at]! <= past)) at++;
    cursors.set(print, at);
    return all[at];
  };
  now.forEach((print, k) => {
    if (found[k] === null) {
      const between = free(print, last, onwards);
      const one = between !== undefined && between < next[k]! ? between : free(print, -1, first);
      if (one !== undefined) take(k, one);
    }
    last = Math.max(last, found[k] ?? -1);
  });
  return found;
}
