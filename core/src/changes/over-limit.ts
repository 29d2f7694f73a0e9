import type { Node } from 'prosemirror-model';
import { limits, overLimit, type Limit } from '../manuscript/limits.js';
import { changeIds } from './list.js';

/**
 * Which limit a text goes over that comes in as a whole, the number of its changes included; null where it goes over none.
 * @param before the text it takes the place of, whose excess may stay; null where there is none
 */
export const overAnyLimit = (before: Node | null, after: Node): Limit | null =>
  changeIds(after).size > limits.changes ? 'changes' : overLimit(before, after);
