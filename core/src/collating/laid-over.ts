import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { evened } from '../manuscript/grid.js';
import { propertiesOf, withProperty, type Bearing } from '../manuscript/properties.js';
import { changeOf, isReview, signatureOf, type ChangeId } from '../manuscript/signature.js';
import { layOut, neverSame, type Alignment } from '../row/align.js';
import { entriesOf, pushEntry } from '../row/entries.js';
import { bring, keep, type Plan, type Target } from '../row/plan.js';
import { entryName, insertionName, type Token } from '../row/row.js';
import { assembled } from './assembled.js';
import type { Part } from './paragraphs.js';
import { wholly } from './whole.js';
import type { Pairing } from '../row/pairing.js';

/** What is pending in one text, laid over another one that has words in common with it. */

/** Which changes are laid over. */
export type Wanted = (change: ChangeId) => boolean;

const pendingOf = ({ node: { marks } }: Token, isWanted: Wanted) =>
  marks.filter((mark) => isReview(mark) && isWanted(mark.attrs.change as string));

/** A token with what is pending on it in the text above as well: changes of its properties come on top of those it has. */
function both(below: Token, above: Token, isWanted: Wanted): Target {
  const has = (mark: Mark) =>
    below.node.marks.some((own) => own.type === mark.type && changeOf(own) === changeOf(mark));
  const pending = pendingOf(above, isWanted).filter((mark) => !has(mark));
  if (!pending.length) return keep(below);
  const type = entryName(below);
  let bearing: Bearing = { marks: below.node.marks, attrs: below.node.attrs };
  for (const { mark, now } of entriesOf(pending, type)) {
    const { node } = below;
    const looks = propertiesOf(
      node.isText ? node.mark(bearing.marks) : node.type.create(bearing.attrs, null, bearing.marks),
    );
    const names = Object.keys(now);
    const was = Object.fromEntries(names.map((name) => [name, looks[name] ?? null]));
    bearing = { marks: pushEntry(bearing.marks, type, signatureOf(mark)!, was, now), attrs: bearing.attrs };
    for (const name of names) bearing = withProperty(bearing, name, now[name]);
  }
  const marks = pending.reduce((set, mark) => (mark.type.name === type ? set : mark.addToSet(set)), bearing.marks);
  return keep(below, marks, bearing.attrs);
}

function plan({ before: region, items }: Alignment, isWanted: Wanted): Plan {
  const targets: Target[] = [];
  const isNew = (token: Token) => pendingOf(token, isWanted).some(({ type }) => type.name === insertionName(token));
  // What comes stands behind what both have, and before what only the text below has: words stay in their paragraph.
  let own: Target[] = [];
  const passOwn = () => {
    for (const target of own) targets.push(target);
    own = [];
  };
  for (const { before, after, inside } of items) {
    if (before && after) {
      passOwn();
      const target = both(before, after, isWanted);
      if (inside) target.inside = [plan(inside, isWanted)];
      targets.push(target);
    } else if (before) own.push(keep(before));
    else if (isNew(after)) targets.push(bring(after, after.node, after.node.marks));
  }
  passOwn();
  return { region, targets };
}

/**
 * A text with all that is pending in another one as well: nothing of the one below goes or changes.
 * @param parts which stretches of both are looked at
 * @param pairing which of their tokens are the same
 * @param isWanted which changes of the text above are laid over
 */
export function laidOver(below: Node, parts: readonly Part[], pairing: Pairing, isWanted: Wanted): Node {
  let next = 0;
  const blocks = parts.flatMap((part) => {
    const same = below.children.slice(next, part.first);
    next = part.end;
    return [...same, ...assembled(plan(layOut(part, pairing, wholly, neverSame), isWanted))];
  });
  return evened(below.copy(Fragment.fromArray([...blocks, ...below.children.slice(next)])));
}
