import { Fragment, type Node } from 'prosemirror-model';
import { StepMap, type Step, type Transform } from 'prosemirror-transform';
import { atOnce } from '../manuscript/at-once.js';
import { isTableNode, withColumns } from '../manuscript/grid.js';
import type { ChangeId } from '../manuscript/signature.js';
import { emit } from '../row/emit.js';
import { OnBlocks } from '../row/on-blocks.js';
import { keep, type Plan, type Target } from '../row/plan.js';
import { hasInside, regionOf, type Region, type Token } from '../row/row.js';
import { hasChanges, pendingIn } from './blocks.js';
import { decideToken, type Judge, type Verdict } from './verdict.js';

/**
 * What becomes of a token and of the row inside it; null when it goes, as a table does that has no rows left.
 * @param bears the token's node with all that is pending about it
 */
function targetFor(doc: Node, token: Token, judge: Judge, bears: Node): Target | null {
  const bearing = decideToken({ kind: token.kind, node: bears }, judge);
  if (!bearing) return null;
  const target = keep(token, bearing.marks, bearing.attrs);
  if (!hasInside(token) || !hasChanges(bears)) return target;
  const container = token.node;
  if (container.firstChild!.isTextblock) {
    target.inside = plansIn(doc, container, token.pos + 1, judge);
    return target;
  }
  const inside = isTableNode(bears) ? withColumns(bears) : bears;
  const plan = planFor(doc, regionOf(doc, container, token.pos + 1, 0, container.childCount), judge, inside);
  target.inside = [plan];
  return plan.targets.length ? target : null;
}

/** @param bears of rows and cells, the container with what is pending about their columns */
function planFor(doc: Node, region: Region, judge: Judge, bears?: Node): Plan {
  const targets: Target[] = [];
  region.row.forEach((token, i) => {
    const target = targetFor(doc, token, judge, bears?.child(i) ?? token.node);
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

/** Whether a block begins with an opening about which nothing is pending, so that what is before it is no concern of it. */
const isApart = (container: Node, index: number): boolean =>
  index === 0 ||
  (container.child(index).isTextblock &&
    container.child(index - 1).isTextblock &&
    !container.child(index).marks.some(({ type }) => openings.has(type.name)));
const openings = new Set(['openingInserted', 'openingDeleted']);

interface Run {
  first: number;
  end: number;
}

/** The runs of blocks of a container that can be decided by themselves and hold something that is to be decided. */
function runsIn(container: Node, isMeant: (block: Node) => boolean): Run[] {
  const runs: Run[] = [];
  for (let at = 0; at < container.childCount; at++) {
    if (!isMeant(container.child(at))) continue;
    let first = at;
    while (!isApart(container, first)) first--;
    let end = at + 1;
    while (end < container.childCount && !isApart(container, end)) end++;
    runs.push({ first, end });
    at = end - 1;
  }
  return runs;
}

/** Plans for the runs of a container, in their order. */
const plansIn = (doc: Node, container: Node, start: number, judge: Judge): Plan[] =>
  runsIn(container, hasChanges).map(({ first, end }) =>
    planFor(doc, regionOf(doc, container, start, first, end), judge),
  );

/** Decides what is pending in a run of blocks, step after step; the plan is made for those blocks alone. */
function* decideRun(on: OnBlocks, start: number, { first, end }: Run, judge: Judge): Generator<undefined> {
  const { doc, blocks } = on;
  // Whether a paragraph follows a table makes a difference to it.
  const seen = blocks.slice(first, end).every((block) => block.isTextblock) ? end : end + 1;
  const part = doc.copy(Fragment.fromArray(blocks.slice(first, seen)));
  const steps: Step[] = [];
  const region = regionOf(part, part, 0, 0, end - first);
  yield;
  const plan = planFor(part, region, judge);
  yield;
  emit({ step: (step: Step) => steps.push(step) }, plan, 'together');
  for (const step of steps) {
    const there = step.map(StepMap.offset(start));
    if (there) on.step(there);
    yield;
  }
}

/**
 * Accepts or rejects changes: the steps are added to `tr`. Only the runs of blocks that hold one of them are looked at.
 * It goes step by step: whoever has others waiting lets them go on in between.
 * @param which the ids of the changes, or all; ids that are not in the document are passed over
 * @returns the same `tr`
 */
export function* decideInParts(
  tr: Transform,
  which: Iterable<ChangeId> | 'all',
  verdict: Verdict,
): Generator<undefined, Transform> {
  const { doc } = tr;
  const ids = which === 'all' ? null : new Set(which);
  const judge: Judge = (change) => (!ids || ids.has(change) ? verdict : undefined);
  const runs = runsIn(doc, ids ? (block) => holdsOne(pendingIn(block), ids) : hasChanges);
  const starts: number[] = [];
  doc.forEach((_, offset) => void starts.push(offset));
  const on = new OnBlocks(doc);
  // From the end to the start, so that positions further up stay good.
  for (const run of runs.reverse()) yield* decideRun(on, starts[run.first] ?? 0, run, judge);
  on.addTo(tr);
  return tr;
}

/** The same in one go. */
export const decide = (...what: Parameters<typeof decideInParts>): Transform => atOnce(decideInParts(...what));

/** Whether two sets have something in common; the smaller one is gone through. */
function holdsOne(a: ReadonlySet<ChangeId>, b: ReadonlySet<ChangeId>): boolean {
  const [few, many] = a.size < b.size ? [a, b] : [b, a];
  for (const id of few) if (many.has(id)) return true;
  return false;
}
