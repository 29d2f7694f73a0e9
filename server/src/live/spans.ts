/**
 * Spans of a log whose steps’ maps are composed into one, at several levels: many short ones, few long ones. A stretch of
 * history of any length is a handful of spans.
 */

/** How many versions a span of each level has; at level 0 are the steps themselves. */
export const sizes = [1, 512, 512 * 32, 512 * 32 * 32];

export interface Span {
  level: number;
  /** The how-manieth of its level. */
  n: number;
  from: number;
  to: number;
}

/** The largest spans that make up a stretch of versions, in order; neighbouring steps of level 0 are one. */
export function spansBetween(from: number, to: number): Span[] {
  const spans: Span[] = [];
  for (let at = from; at < to;) {
    const level = sizes.findLastIndex((size) => at % size === 0 && at + size <= to);
    const size = sizes[level] ?? 1;
    const last = spans.at(-1);
    if (level === 0 && last?.level === 0) last.to = ++at;
    else {
      spans.push({ level, n: at / size, from: at, to: at + size });
      at += size;
    }
  }
  return spans;
}

/** All whole spans that end at or before a version, the short ones first, from one that is known to be there on. */
export function spansUpTo(version: number, from: number): Span[] {
  return sizes.flatMap((size, level) => {
    if (level === 0) return [];
    const first = Math.floor(from / size);
    const end = Math.floor(version / size);
    return Array.from({ length: Math.max(0, end - first) }, (_, i) => {
      const n = first + i;
      return { level, n, from: n * size, to: (n + 1) * size };
    });
  });
}
