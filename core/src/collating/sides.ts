import type { Node } from 'prosemirror-model';
import { pendingIn } from '../changes/blocks.js';
import type { ChangeId } from '../manuscript/signature.js';
import { propertiesOf, withProperty, type Bearing } from '../manuscript/properties.js';
import { former } from '../row/entries.js';
import { keep, type Plan, type Target } from '../row/plan.js';
import { deletionName, entryName, hasInside, insertionName, regionOf, type Region, type Token } from '../row/row.js';
import { assembled } from './assembled.js';

/** Two texts that have been collated, to be read beside each other. */

/** Blocks that stand beside each other: what both texts have at a place. */
export interface Beside {
  before: Node[];
  after: Node[];
  /** The changes between both, in no order. */
  changes: ChangeId[];
}

const hasMark = ({ node }: Token, name: string) => node.marks.some(({ type }) => type.name === name);

/** A token as it looked before what is pending about its looks. */
function formerly(token: Token): Target {
  const type = entryName(token);
  if (!hasMark(token, type)) return keep(token);
  const looks = propertiesOf(token.node);
  const before = former(looks, token.node.marks, type);
  let bearing: Bearing = { marks: token.node.marks, attrs: token.node.attrs };
  for (const [name, value] of Object.entries(before))
    if (looks[name] !== value) bearing = withProperty(bearing, name, value);
  return keep(token, bearing.marks, bearing.attrs);
}

/** What one of the texts has of a row; what the other has not keeps its marks. */
function sideOf(region: Region, side: 'before' | 'after'): Plan {
  const targets = region.row.flatMap((token): Target[] => {
    if (hasMark(token, side === 'before' ? insertionName(token) : deletionName(token))) return [];
    const target = side === 'before' ? formerly(token) : keep(token);
    if (hasInside(token)) {
      const { node, pos } = token;
      target.inside = [sideOf(regionOf(region.doc, node, pos + 1, 0, node.childCount), side)];
    }
    return [target];
  });
  return { region, targets };
}

/** Whether a block begins on both sides. */
const beginsBoth = (block: Node) =>
  !block.marks.some(({ type }) => /^(insertion|deletion|openingInserted|openingDeleted)$/.test(type.name));

/** The two texts of a collated one, beside each other block by block. */
export function beside(collated: Node): Beside[] {
  const found: Beside[] = [];
  const blocks = collated.children;
  for (let first = 0; first < blocks.length;) {
    let end = first + 1;
    while (end < blocks.length && !beginsBoth(blocks[end]!)) end++;
    const group = blocks.slice(first, end);
    const changes = [...new Set(group.flatMap((block) => [...pendingIn(block)]))];
    const region = changes.length ? regionOf(collated, collated, 0, first, end) : null;
    found.push({
      before: region ? assembled(sideOf(region, 'before')) : group,
      after: region ? assembled(sideOf(region, 'after')) : group,
      changes,
    });
    first = end;
  }
  return found;
}
