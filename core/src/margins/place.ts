/** A note that stands beside the text: where it would like its top edge, and how tall it is (any unit). */
export interface Note {
  wanted: number;
  height: number;
}

/**
 * Tops for notes in reading order, so that none overlaps the one before it and the total distance from where they want
 * to be is least. After subtracting the heights above each note this is isotonic regression in the L1 norm, solved by
 * pooling adjacent violators with the median (Ayer et al. 1955; Best and Chakravarti 1990).
 * @param gap the least distance between two notes
 * @param least no note begins above this
 */
export function placeNotes(notes: readonly Note[], gap: number, least = 0): number[] {
  const pools: { wants: number[]; at: number }[] = [];
  let above = 0;
  const shifts = notes.map((note) => {
    const shift = above;
    above += note.height + gap;
    return shift;
  });
  notes.forEach((note, i) => {
    let pool = { wants: [note.wanted - shifts[i]!], at: note.wanted - shifts[i]! };
    for (let last = pools[pools.length - 1]; last && last.at > pool.at; last = pools[pools.length - 1]) {
      const wants = [...last.wants, ...pool.wants].sort((a, b) => a - b);
      pool = { wants, at: wants[Math.floor((wants.length - 1) / 2)]! };
      pools.pop();
    }
    pools.push(pool);
  });
  const tops: number[] = [];
  for (const { wants, at } of pools) {
    for (let k = 0; k < wants.length; k++) tops.push(Math.max(at, least) + shifts[tops.length]!);
  }
  return tops;
}
