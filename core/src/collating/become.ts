import { Fragment, Slice, type Mark, type Node } from 'prosemirror-model';
import { ReplaceStep, StepMap, type Step, type Transform } from 'prosemirror-transform';
import { sameManuscript } from '../manuscript/canonical.js';
import { schema } from '../manuscript/schema.js';
import { layOut } from '../row/align.js';
import { emit } from '../row/emit.js';
import { OnBlocks } from '../row/on-blocks.js';
import { keep, planOf, type Target } from '../row/plan.js';
import type { Token } from '../row/row.js';
import { withoutAnchors } from '../threads/anchors.js';
import { differing } from './paragraphs.js';
import { wholeTexts, wholly } from './whole.js';
import { byContent } from './words.js';

/** What lives on keeps the anchors it has; all else of it is as it shall be. */
function kept(before: Token, after: Token): Target {
  const anchors = before.node.marks.filter(({ type }) => type === schema.marks.anchor);
  const marks = anchors.reduce<readonly Mark[]>((set, anchor) => anchor.addToSet(set), after.node.marks);
  return keep(before, marks, after.node.attrs);
}

/** Where each block begins, and where the last ends. */
function startsOf(doc: Node): number[] {
  const starts = [0];
  for (const block of doc.children) starts.push(starts.at(-1)! + block.nodeSize);
  return starts;
}

/** What leads from some blocks to others; null where steps do not, as where no row of a table stays. */
function stepsBetween(was: Node, now: Node): Step[] | null {
  const on = new OnBlocks(was);
  const steps: Step[] = [];
  const [part] = wholeTexts(was, now);
  try {
    emit(
      { step: (step) => (on.step(step), steps.push(step)) },
      planOf(layOut(part!, byContent, wholly), kept),
      'together',
    );
  } catch (problem) {
    if (problem instanceof RangeError) return null;
    throw problem;
  }
  return sameManuscript(withoutAnchors(on.now), now) ? steps : null;
}

/**
 * Makes a text another one, what is pending included. What both have in common stays in place, with the comments that are
 * fastened to it.
 * @param target the text it shall be; anchors in it do not count
 * @returns the same transform
 */
export function become(tr: Transform, target: Node): Transform {
  const bare = withoutAnchors(target);
  const { doc } = tr;
  const on = new OnBlocks(doc);
  const starts = startsOf(doc);
  for (const { i0, i1, j0, j1 } of differing(doc, bare).reverse()) {
    // With the block before it, in whose end a new paragraph begins.
    const before = i0 > 0 ? [doc.child(i0 - 1)] : [];
    const was = doc.copy(Fragment.fromArray([...before, ...doc.children.slice(i0, i1)]));
    const come = bare.children.slice(j0, j1);
    const now = doc.copy(Fragment.fromArray([...before.map(withoutAnchors), ...come]));
    const start = starts[i0 - before.length]!;
    const steps = stepsBetween(was, now);
    if (steps) for (const step of steps) on.step(step.map(StepMap.offset(start))!);
    else on.step(new ReplaceStep(starts[i0]!, starts[i1]!, new Slice(Fragment.fromArray(come), 0, 0)));
  }
  return on.addTo(tr);
}
