import type { Node } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import type { ChangeId } from '../manuscript/manuscript.js';
import { emit } from '../recording/emit.js';
import { keep, type Plan, type Target } from '../recording/plan.js';
import { hasInside, regionOf, type Region, type Token } from '../recording/row.js';
import { hasChanges } from './blocks.js';
import { decideToken, type Judge, type Verdict } from './verdict.js';

/** What becomes of a token and of the row inside it; null when it goes, as a table does that has no rows left. */
function targetFor(doc: Node, token: Token, judge: Judge): Target | null {
  const look = decideToken(token, judge);
  if (!look) return null;
  const target = keep(token, look.marks, look.attrs);
  if (!hasInside(token) || !hasChanges(token.node)) return target;
  const container = token.node;
  if (container.firstChild!.isTextblock) {
    target.inside = plansIn(doc, container, token.pos + 1, judge);
    return target;
  }
  const plan = planFor(doc, regionOf(doc, container, token.pos + 1, 0, container.childCount), judge);
  target.inside = [plan];
  return plan.targets.length ? target : null;
}

function planFor(doc: Node, region: Region, judge: Judge): Plan {
  const targets: Target[] = [];
  region.row.forEach((token, i) => {
    const target = targetFor(doc, token, judge);
    if (target) targets.push(target);
    // The opening after a table goes with the table. Where that stays, another must follow for the opening to go.
    else if (
      token.fixed &&
      (i === 0 || targets[targets.length - 1]?.source === region.row[i - 1]) &&
      !isFollowed(region, i, judge)
    ) {
      targets.push(keep(token, openingMarksLeft(token, judge)));
    }
  });
  return { region, targets };
}

/** Whether the paragraph that opens at a place would be empty, with a paragraph behind it that stays. */
function isFollowed({ doc, row, to }: Region, at: number, judge: Judge): boolean {
  for (const token of row.slice(at + 1)) {
    const stays = decideToken(token, judge) !== null;
    if (stays) return token.kind === 'opening';
  }
  return !!doc.resolve(to).nodeAfter?.isTextblock; // what stands behind the region stays
}

const openingMarksLeft = (token: Token, judge: Judge) =>
  token.node.marks.filter((mark) => !judge(mark.attrs.change as string, mark.attrs.author as string));

/** Plans for the runs of neighbouring blocks of a container in which something is pending, in their order. */
function plansIn(doc: Node, container: Node, start: number, judge: Judge): Plan[] {
  const plans: Plan[] = [];
  for (let first = 0; first < container.childCount; first++) {
    if (!hasChanges(container.child(first))) continue;
    let end = first + 1;
    while (end < container.childCount && hasChanges(container.child(end))) end++;
    plans.push(planFor(doc, regionOf(doc, container, start, first, end), judge));
    first = end;
  }
  return plans;
}

/**
 * Accepts or rejects changes: the steps are added to `tr`.
 * @param which the ids of the changes, or all; ids that are not in the document are passed over
 * @returns the same `tr`
 */
export function decide(tr: Transform, which: Iterable<ChangeId> | 'all', verdict: Verdict): Transform {
  const ids = which === 'all' ? null : new Set(which);
  const judge: Judge = (change) => (!ids || ids.has(change) ? verdict : undefined);
  // From the end to the start, so that positions further up stay good.
  for (const plan of plansIn(tr.doc, tr.doc, 0, judge).reverse()) emit(tr, plan, 'together');
  return tr;
}
