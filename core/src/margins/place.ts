/** A note that stands beside the text: where it would like its top edge, and how tall it is (any unit). */
export interface Note {
  wanted: number;
  height: number;
  /** How much it matters that it stands where it wants; 1 where nothing is said. The one in focus matters most. */
  weight?: number;
}

interface Want {
  at: number;
  weight: number;
}

/** The lower weighted median: no point has a smaller weighted total distance to all wants. */
function median(wants: Want[]): number {
  const sorted = [...wants].sort((a, b) => a.at - b.at);
  let left = sorted.reduce((sum, { weight }) => sum + weight, 0) / 2;
  return sorted.find(({ weight }) => (left -= weight) <= 0)!.at;
}

/**
 * Tops for notes in reading order, so that none overlaps the one before it and the (weighted) total distance from where
 * they want to be is least. After subtracting the heights above each note this is isotonic regression in the L1 norm,
 * solved by pooling adjacent violators with the median (Ayer et al. 1955; Best and Chakravarti 1990).
 * @param gap the least distance between two notes
 * @param least no note begins above this
 */
export function placeNotes(notes: readonly Note[], gap: number, least = 0): number[] {
  const shifts: number[] = [];
  const pools: { wants: Want[]; at: number }[] = [];
  let above = 0;
  for (const { wanted, height, weight = 1 } of notes) {
    shifts.push(above);
    let pool = { wants: [{ at: wanted - above, weight }], at: wanted - above };
    for (let last = pools[pools.length - 1]; last && last.at > pool.at; last = pools[pools.length - 1]) {
      const wants = [...last.wants, ...pool.wants];
      pool = { wants, at: median(wants) };
      pools.pop();
    }
    pools.push(pool);
    above += height + gap;
  }
  return pools.flatMap(({ wants, at }) => wants.map(() => Math.max(at, least))).map((top, i) => top + shifts[i]!);
}
