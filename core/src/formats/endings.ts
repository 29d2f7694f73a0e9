import type { ParagraphProperties } from '../manuscript/schema.js';
import { sameValue } from '../manuscript/properties.js';
import type { Signature } from '../manuscript/signature.js';

/**
 * Our paragraphs begin with an opening that can be inserted or deleted; those of the file standards end with a mark
 * that can (ISO/IEC 29500-1, 17.13.5.15 and 17.13.5.20). The boundary between two paragraphs is the same, but when it
 * goes, we keep the earlier paragraph's properties and the standards the later's. Here one is turned into the other.
 */

/** A paragraph's properties if all is accepted and if all is rejected, and who changes them where they differ. */
export interface Styled {
  fair: ParagraphProperties;
  before: ParagraphProperties;
  by: Signature | null;
}

/** What is proposed about the boundary between a paragraph and the one before it. */
export interface Boundary {
  inserted: Signature | null;
  deleted: Signature | null;
}

type Side = 'fair' | 'before';
const goes = (boundary: Boundary | undefined, side: Side) => (side === 'fair' ? boundary?.deleted : boundary?.inserted);

/** Index of the last paragraph that joins `k` when the boundaries of one side have gone. */
function lastOfGroup(boundaries: readonly Boundary[], k: number, side: Side): number {
  let last = k;
  while (goes(boundaries[last + 1], side)) last++;
  return last;
}

const agree = (
  fair: ParagraphProperties,
  before: ParagraphProperties,
  ...by: (Signature | null | undefined)[]
): Styled => ({
  fair,
  before,
  by: sameValue(fair, before) ? null : (by.find(Boolean) ?? null),
});

/**
 * Properties that hang on endings, made to hang on openings.
 * @param boundaries for each paragraph, the boundary before it (of the first: nothing)
 */
export function toOpenings(endings: readonly Styled[], boundaries: readonly Boundary[]): Styled[] {
  return endings.map((own, k) => {
    const headInFair = !goes(boundaries[k], 'fair');
    const headInBefore = !goes(boundaries[k], 'before');
    const lastFair = lastOfGroup(boundaries, k, 'fair');
    const lastBefore = lastOfGroup(boundaries, k, 'before');
    const fair = endings[lastFair]!.fair;
    const before = endings[lastBefore]!.before;
    if (!headInFair && !headInBefore) return agree(own.fair, own.fair);
    if (!headInFair) return agree(before, before);
    if (!headInBefore) return agree(fair, fair);
    const boundary = boundaries[Math.max(lastFair, lastBefore)];
    return agree(fair, before, endings[lastFair]!.by, endings[lastBefore]!.by, boundary?.deleted, boundary?.inserted);
  });
}

/** The other way round: what each paragraph of the file must say so that deciding gives what our openings say. */
export function toEndings(openings: readonly Styled[], boundaries: readonly Boundary[]): Styled[] {
  const endings = openings.map(({ fair }) => ({ fair, before: fair, by: null as Signature | null }));
  for (const side of ['fair', 'before'] as const) {
    openings.forEach((own, k) => {
      if (goes(boundaries[k], side)) return;
      const last = lastOfGroup(boundaries, k, side);
      endings[last]![side] = own[side];
      if (own.by) endings[last]!.by = own.by;
    });
  }
  // A paragraph that no side ends with says nothing that is kept.
  return endings.map((ending, k) => {
    const joinsNext = boundaries[k + 1];
    const before = joinsNext?.inserted && !joinsNext.deleted ? ending.fair : ending.before;
    const fair = joinsNext?.deleted && !joinsNext.inserted ? before : ending.fair;
    return agree(fair, before, ending.by, boundaries[k]?.deleted, boundaries[k]?.inserted);
  });
}
