import type { Node } from 'prosemirror-model';
import { fairReading, plainText } from '@tea-pencil/core';

/** Two texts have next to nothing in common with less than that of their words. */
const least = 0.1;

/** How much of the words of two texts they have in common (the coefficient of Dice, 1945). */
function shared(one: Node, other: Node): number {
  const bag = (doc: Node) => plainText(fairReading(doc)).match(/[\p{L}\p{N}]+/gu) ?? [];
  const [a, b] = [bag(one), bag(other)];
  const counts = new Map<string, number>();
  for (const word of a) counts.set(word, (counts.get(word) ?? 0) + 1);
  let both = 0;
  for (const word of b) {
    const left = counts.get(word) ?? 0;
    if (left) both++;
    counts.set(word, left - 1);
  }
  return a.length + b.length ? (2 * both) / (a.length + b.length) : 1;
}

/** Whether two texts have so little in common that one would replace the other as a whole. */
export const areApart = (one: Node, other: Node): boolean => shared(one, other) < least;
