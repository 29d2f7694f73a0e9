import type { ListItem } from './values.js';

/** Deeper levels are counted as this one. */
const deepest = 3;

/**
 * The numbers of paragraphs that are items of numbered lists, counted at each level and anew under every item of the level
 * above.
 * @param lists of each paragraph what item it is, in reading order; null for one that is none, and for what stands between
 * @returns for each its number, from 1; null for what has none
 */
export function listNumbers(lists: readonly (ListItem | null)[]): (number | null)[] {
  const counts: number[] = [];
  return lists.map((item) => {
    if (!item) {
      counts.length = 0;
      return null;
    }
    const level = Math.min(deepest, item.level);
    const numbered = item.kind === 'number';
    counts.length = Math.min(counts.length, numbered ? level + 1 : level);
    if (!numbered) return null;
    while (counts.length <= level) counts.push(0);
    return ++counts[level]!;
  });
}
