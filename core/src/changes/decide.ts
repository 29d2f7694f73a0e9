import { Fragment, type Node } from 'prosemirror-model';
import { StepMap, Transform, type Step } from 'prosemirror-transform';
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

/** Whether a block begins with an opening about which nothing is pending, so that what is before it is no concern of it. */
const isApart = (container: Node, index: number): boolean =>
  index === 0 ||
  (container.child(index).isTextblock &&
    container.child(index - 1).isTextblock &&
    !container.child(index).marks.some(({ type }) => openings.has(type.name)));
const openings = new Set(['openingInserted', 'openingDeleted']);

/** The runs of blocks of a container that can be decided by themselves and in which something is pending. */
function runsIn(container: Node): { first: number; end: number }[] {
  const runs: { first: number; end: number }[] = [];
  for (let first = 0, end = 1; first < container.childCount; first = end++) {
    while (end < container.childCount && !isApart(container, end)) end++;
    let pending = false;
    for (let i = first; i < end; i++) pending ||= hasChanges(container.child(i));
    if (pending) runs.push({ first, end });
  }
  return runs;
}

/** Plans for the runs of a container, in their order. */
const plansIn = (doc: Node, container: Node, start: number, judge: Judge): Plan[] =>
  runsIn(container).map(({ first, end }) => planFor(doc, regionOf(doc, container, start, first, end), judge));

/**
 * Decides what is pending in a run of blocks. The steps are made in a document of those blocks alone: in a large one
 * each step would cost as much as the document is long.
 * @param start position of the first of the blocks
 */
function decideRun(tr: Whole, first: number, end: number, start: number, judge: Judge): void {
  const { doc } = tr;
  const blocks = doc.children.slice(first, end);
  // Whether a paragraph follows a table makes a difference to it.
  const seen = blocks.every((block) => block.isTextblock) ? end : end + 1;
  const part = new Transform(doc.copy(Fragment.fromArray(doc.children.slice(first, seen))));
  emit(part, planFor(part.doc, regionOf(part.doc, part.doc, 0, 0, end - first), judge), 'together');
  const withPart = ({ content }: Node) =>
    doc.copy(
      seen - first === 1 && content.childCount === 1
        ? doc.content.replaceChild(first, content.child(0))
        : Fragment.fromArray([...doc.children.slice(0, first), ...content.content, ...doc.children.slice(seen)]),
    );
  const decided = withPart(part.doc);
  const shift = StepMap.offset(start);
  part.steps.forEach((step, i) => {
    tr.addStep(step.map(shift)!, decided);
    // Thousands of whole documents in between are made only if someone asks for one, to undo a step.
    if (i) Object.defineProperty(tr.docs, tr.docs.length - 1, { get: () => withPart(part.docs[i]!), enumerable: true });
  });
}

/** What a transform does with a step that has been carried out already; it is there, but not among its types. */
interface Whole extends Transform {
  addStep(step: Step, doc: Node): void;
}

/**
 * Accepts or rejects changes: the steps are added to `tr`.
 * @param which the ids of the changes, or all; ids that are not in the document are passed over
 * @returns the same `tr`
 */
export function decide(tr: Transform, which: Iterable<ChangeId> | 'all', verdict: Verdict): Transform {
  const ids = which === 'all' ? null : new Set(which);
  const judge: Judge = (change) => (!ids || ids.has(change) ? verdict : undefined);
  const starts: number[] = [];
  tr.doc.forEach((_, offset) => void starts.push(offset));
  // From the end to the start, so that positions further up stay good.
  for (const { first, end } of runsIn(tr.doc).reverse()) decideRun(tr as Whole, first, end, starts[first]!, judge);
  return tr;
}
