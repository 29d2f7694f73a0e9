import type { Node } from 'prosemirror-model';
import { beforeReading, fairReading, placeInReading, placeInText } from '@tea-pencil/core';
import type { ReadAs } from '@tea-pencil/wire';

/** The readings of a text, and where a place of one is in another. */

const verdicts = { fair: 'accept', before: 'reject' } as const;

const readings = new WeakMap<Node, Partial<Record<ReadAs, Node>>>();

/** The text as a reading shows it, made once. */
export function readingOf(doc: Node, reading: ReadAs): Node {
  if (reading === 'marked') return doc;
  const known = readings.get(doc) ?? {};
  readings.set(doc, known);
  return (known[reading] ??= reading === 'fair' ? fairReading(doc) : beforeReading(doc));
}

/** A place of the text in a reading, and the other way round. */
export const inReading = (doc: Node, pos: number, reading: ReadAs): number =>
  reading === 'marked' ? pos : placeInReading(doc, pos, verdicts[reading]);
export const inText = (doc: Node, pos: number, reading: ReadAs): number =>
  reading === 'marked' ? pos : placeInText(doc, pos, verdicts[reading]);
