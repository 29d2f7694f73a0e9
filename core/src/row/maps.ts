import { StepMap } from 'prosemirror-transform';

/**
 * Step maps as plain numbers, and many of them composed into one, so that a place can be brought forward over a long
 * history at the cost of what has changed in between and not of how often.
 */

/** The replaced ranges of a step, three integers each, in order: where it begins before, its size before and after. */
export type Ranges = readonly number[];

/** The replaced ranges of a map. */
export function rangesOf(map: StepMap): number[] {
  const ranges: number[] = [];
  map.forEach((from, to, newFrom, newTo) => void ranges.push(from, to - from, newTo - newFrom));
  return ranges;
}

/** A map as it was before it was kept as numbers. */
export const mapOf = (ranges: Ranges): StepMap => (ranges.length ? new StepMap(ranges) : StepMap.empty);

/** Two sets of ranges, the second of the text that the first leads to, as one; those that touch become one range. */
function composeTwo(first: Ranges, second: Ranges): Ranges {
  const out: number[] = [];
  let i = 0;
  let k = 0;
  /** By how much positions between are further on after the first set than before it. */
  let shift = 0;
  while (i < first.length || k < second.length) {
    const one = i < first.length ? first[i]! + shift : Infinity;
    const other = k < second.length ? second[k]! : Infinity;
    const start = Math.min(one, other);
    const before = start - shift;
    let end = start;
    let grown = 0;
    for (;;) {
      if (i < first.length && first[i]! + shift <= end) {
        end = Math.max(end, first[i]! + shift + first[i + 2]!);
        shift += first[i + 2]! - first[i + 1]!;
        i += 3;
      } else if (k < second.length && second[k]! <= end) {
        end = Math.max(end, second[k]! + second[k + 1]!);
        grown += second[k + 2]! - second[k + 1]!;
        k += 3;
      } else break;
    }
    out.push(before, end - shift - before, end - start + grown);
  }
  return out;
}

/**
 * One set of ranges for many that follow one another. What none of them touched is where all of them together put it;
 * what they replaced is within what stands there in the end.
 * @returns ranges that neither touch nor overlap, in order
 */
export function composed(all: readonly Ranges[]): Ranges {
  let level = all.filter((ranges) => ranges.length);
  // In pairs, so that n steps cost n log n.
  while (level.length > 1) {
    const next: Ranges[] = [];
    for (let i = 0; i < level.length; i += 2)
      next.push(level[i + 1] ? composeTwo(level[i]!, level[i + 1]!) : level[i]!);
    level = next;
  }
  return level[0] ?? [];
}
