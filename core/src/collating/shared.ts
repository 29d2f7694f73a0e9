/** What two rows of keys have in common. */

/**
 * A longest common subsequence, found by the greedy algorithm of E. W. Myers, “An O(ND) Difference Algorithm and Its
 * Variations”, Algorithmica 1 (1986), figure 2.
 * @param most how many keys may come and go together; beyond that the rows are taken to have nothing in common but their ends
 * @returns of each place in `a` its place in `b`, or -1
 */
export function sharedKeys(a: readonly number[], b: readonly number[], most: number): Int32Array {
  const partner = new Int32Array(a.length).fill(-1);
  let start = 0;
  let [endA, endB] = [a.length, b.length];
  while (start < endA && start < endB && a[start] === b[start]) partner[start] = start++;
  while (endA > start && endB > start && a[endA - 1] === b[endB - 1]) partner[--endA] = --endB;
  const trace = waves(a.slice(start, endA), b.slice(start, endB), most);
  let [x, y] = [endA - start, endB - start];
  for (let d = trace.length - 1; d >= 0; d--) {
    const wave = trace[d]!;
    const k = x - y;
    const at = (diagonal: number) => wave[diagonal + d + 1]!;
    const down = k === -d || (k !== d && at(k - 1) < at(k + 1));
    const fromX = d ? at(down ? k + 1 : k - 1) : 0;
    const fromY = d ? fromX - (down ? k + 1 : k - 1) : 0;
    while (x > fromX && y > fromY) partner[start + --x] = start + --y;
    [x, y] = [fromX, fromY];
  }
  return partner;
}

/** How far one gets along each diagonal before the `d`th edit, from -d-1 to d+1; none where there are too many. */
function waves(a: readonly number[], b: readonly number[], most: number): Int32Array[] {
  const trace: Int32Array[] = [];
  const farthest = Math.min(a.length + b.length, most);
  const zero = farthest + 1;
  const reached = new Int32Array(2 * farthest + 3);
  for (let d = 0; d <= farthest; d++) {
    trace.push(reached.slice(zero - d - 1, zero + d + 2));
    for (let k = -d; k <= d; k += 2) {
      const down = k === -d || (k !== d && reached[zero + k - 1]! < reached[zero + k + 1]!);
      let x = down ? reached[zero + k + 1]! : reached[zero + k - 1]! + 1;
      while (x < a.length && x - k < b.length && a[x] === b[x - k]) x++;
      reached[zero + k] = x;
      if (x >= a.length && x - k >= b.length) return trace;
    }
  }
  return [];
}
