import type { Node } from 'prosemirror-model';
import { regionOf, type Region } from '../row/row.js';
import type { Regions, Side } from '../row/touched.js';
import type { Part } from './paragraphs.js';

/** Looking at everything, and not at what differs only. */

const wholeOf = ({ doc, container, start }: Side): Region => regionOf(doc, container, start, 0, container.childCount);

/** All that stands inside two tokens. */
export const wholly = (before: Side, after: Side): Regions => ({ before: wholeOf(before), after: wholeOf(after) });

/** Two texts from the first to the last. */
export function wholeTexts(before: Node, after: Node): Part[] {
  const side = (doc: Node): Side => ({ doc, container: doc, start: 0 });
  const blocks = { first: 0, end: before.childCount, firstAfter: 0, endAfter: after.childCount };
  return [{ ...wholly(side(before), side(after)), ...blocks }];
}
