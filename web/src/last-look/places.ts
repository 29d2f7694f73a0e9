import type { Node } from 'prosemirror-model';
import { beginningOf, placesIn, type Range } from '@tea-pencil/core';
import type { Found } from './found';

/** Where findings stand in a text as it is. */

interface Place {
  index: number;
  at: number;
}
const known = new WeakMap<Node, Map<Node, Place>>();

/** The blocks of a text, each with its number and where it begins; made once for as long as the text is the same. */
export function blocksOf(doc: Node): ReadonlyMap<Node, Place> {
  let blocks = known.get(doc);
  if (!blocks) {
    const made = new Map<Node, Place>();
    doc.forEach((block, at, index) => made.set(block, { index, at }));
    known.set(doc, (blocks = made));
  }
  return blocks;
}

/** The ranges a finding is made of; one of no length where it has no words; none where its block is not there any more. */
export function placesOf(doc: Node, { block, passage, from, to }: Found): Range[] {
  const place = blocksOf(doc).get(block);
  if (!place) return [];
  const places = placesIn(block, place.at, passage, from, to);
  const begins = beginningOf(block, place.at, passage);
  return places.length ? places : [{ from: begins, to: begins }];
}
