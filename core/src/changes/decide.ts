import { Fragment, type Node } from 'prosemirror-model';
import { StepMap, Transform, type Step } from 'prosemirror-transform';
import type { ChangeId } from '../manuscript/signature.js';
import { emit } from '../row/emit.js';
import { keep, type Plan, type Target } from '../row/plan.js';
import { hasInside, regionOf, type Region, type Token } from '../row/row.js';
import { hasChanges, pendingIn } from './blocks.js';
import { decideToken, type Judge, type Verdict } from './verdict.js';

/** What becomes of a token and of the row inside it; null when it goes, as a table does that has no rows left. */
function targetFor(doc: Node, token: Token, judge: Judge): Target | null {
  const bearing = decideToken(token, judge);
  if (!bearing) return null;
  const target = keep(token, bearing.marks, bearing.attrs);
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

/** A run that has been decided, in a document of its own that stands for the blocks from `first` up to `seen`. */
interface Decided {
  first: number;
  seen: number;
  part: Transform;
}

/**
 * Decides what is pending in a run of blocks, in a document of those blocks alone: in a large one each step would cost as
 * much as the document is long.
 */
function decideRun(doc: Node, content: readonly Node[], { first, end }: Run, judge: Judge): Decided {
  const blocks = content.slice(first, end);
  // Whether a paragraph follows a table makes a difference to it.
  const seen = blocks.every((block) => block.isTextblock) ? end : Math.min(end + 1, content.length);
  const part = new Transform(doc.copy(Fragment.fromArray(content.slice(first, seen))));
  emit(part, planFor(part.doc, regionOf(part.doc, part.doc, 0, 0, end - first), judge), 'together');
  return { first, seen, part };
}

const replaced = (content: readonly Node[], { first, seen }: Decided, by: Node): Node[] => [
  ...content.slice(0, first),
  ...by.children,
  ...content.slice(seen),
];

/** What a transform does with a step that has been carried out already; it is there, but not among its types. */
interface Whole extends Transform {
  addStep(step: Step, doc: Node): void;
}

/** Adds the steps of runs that have been decided one after the other, from the last to the first. */
function take(tr: Whole, runs: readonly Decided[], content: readonly Node[], starts: readonly number[]): void {
  const { doc } = tr;
  const first = tr.steps.length;
  const decided = doc.copy(Fragment.fromArray([...content]));
  // Thousands of whole documents in between are made only if someone asks for one, to undo a step.
  let known = { runs: 0, content: doc.children };
  const contentBefore = (n: number): readonly Node[] => {
    if (known.runs > n) known = { runs: 0, content: doc.children };
    while (known.runs < n) {
      const run = runs[known.runs]!;
      known = { runs: known.runs + 1, content: replaced(known.content, run, run.part.doc) };
    }
    return known.content;
  };
  runs.forEach((run, n) => {
    const shift = StepMap.offset(starts[run.first]!);
    run.part.steps.forEach((step, i) => {
      tr.addStep(step.map(shift)!, decided);
      const at = tr.docs.length - 1;
      const get = () => doc.copy(Fragment.fromArray(replaced(contentBefore(n), run, run.part.docs[i]!)));
      if (at > first) Object.defineProperty(tr.docs, at, { get, enumerable: true });
    });
  });
}

/**
 * Accepts or rejects changes: the steps are added to `tr`. Only the runs of blocks that hold one of them are looked at.
 * @param which the ids of the changes, or all; ids that are not in the document are passed over
 * @returns the same `tr`
 */
export function decide(tr: Transform, which: Iterable<ChangeId> | 'all', verdict: Verdict): Transform {
  const { doc } = tr;
  const ids = which === 'all' ? null : new Set(which);
  const judge: Judge = (change) => (!ids || ids.has(change) ? verdict : undefined);
  const runs = runsIn(doc, ids ? (block) => holdsOne(pendingIn(block), ids) : hasChanges);
  const starts: number[] = [];
  doc.forEach((_, offset) => void starts.push(offset));
  // From the end to the start, so that positions further up stay good.
  let content: readonly Node[] = doc.children;
  const decided = runs.reverse().map((run) => {
    const done = decideRun(doc, content, run, judge);
    content = replaced(content, done, done.part.doc);
    return done;
  });
  take(tr as Whole, decided, content, starts);
  return tr;
}

/** Whether two sets have something in common; the smaller one is gone through. */
function holdsOne(a: ReadonlySet<ChangeId>, b: ReadonlySet<ChangeId>): boolean {
  const [few, many] = a.size < b.size ? [a, b] : [b, a];
  for (const id of few) if (many.has(id)) return true;
  return false;
}
