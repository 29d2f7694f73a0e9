import type { Node } from 'prosemirror-model';
import {
  AddMarkStep,
  AddNodeMarkStep,
  AttrStep,
  Mapping,
  RemoveMarkStep,
  RemoveNodeMarkStep,
  Transform,
  type Step,
  type StepMap,
} from 'prosemirror-transform';
import { rangesOf } from '../row/maps.js';
import { OnBlocks } from '../row/on-blocks.js';

/** A mapping can be told that one of its maps undoes another, so that what the first removed is found again. */
type Mirroring = Mapping & { setMirror(one: number, other: number): void };

const nodeSteps = [AddNodeMarkStep, RemoveNodeMarkStep, AttrStep];
const isOfNode = (step: Step): step is AddNodeMarkStep | RemoveNodeMarkStep | AttrStep =>
  nodeSteps.some((kind) => step instanceof kind);
const movesNothing = (step: Step) => step instanceof AddMarkStep || step instanceof RemoveMarkStep || isOfNode(step);

/** Whether steps can still be carried out, one after the other, on the text they have been carried over to. */
function fitting(steps: readonly Step[], onto: Node): (step: Step) => boolean {
  if (!steps.every(movesNothing)) {
    const on = new OnBlocks(onto);
    return (step) => on.try(step) === null;
  }
  // Those that move nothing are not in one another's way, and marks can always be set and taken off.
  return (step) => !isOfNode(step) || onto.nodeAt(step.pos)?.isText === false;
}

/**
 * Steps carried over what others did meanwhile, exactly as prosemirror-collab does it in an editor: undone, their steps
 * made, and made again as far as it still can be. One by one: whoever has others waiting lets them go on in between.
 * @param own steps made one after the other on some text
 * @param others steps made on that same text
 * @param onto the text that the others' steps lead to
 * @returns the steps on top of it; those whose place has gone are left out
 */
export function* carried(own: readonly Step[], others: readonly Step[], onto: Node): Generator<undefined, Step[]> {
  const over = new Mapping() as Mirroring;
  // Maps that move nothing are left out: with thousands of marks they would be gone through again and again.
  const add = (map: StepMap): number | null => {
    if (!rangesOf(map).length) return null;
    over.appendMap(map);
    return over.maps.length - 1;
  };
  const undone = [...own].reverse().map((step) => ({ step, at: add(step.getMap().invert()), end: over.maps.length }));
  for (const step of others) add(step.getMap());
  const fits = fitting(own, onto);
  const result: Step[] = [];
  for (const { step, at, end } of undone.reverse()) {
    yield;
    const mapped = step.map(over.slice(end));
    if (!mapped || !fits(mapped)) continue;
    const again = add(mapped.getMap());
    if (at !== null && again !== null) over.setMirror(at, again);
    result.push(mapped);
  }
  return result;
}

/**
 * A batch carried over what others did meanwhile (see `carried`).
 * @param own the batch, on the text it was made on
 * @param others steps made on that same text
 * @returns the batch on the text that the others' steps lead to
 */
export function rebase(own: Transform, others: readonly Step[]): Transform {
  const theirs = new OnBlocks(own.before);
  for (const step of others) theirs.step(step);
  const carrying = carried(own.steps, others, theirs.now);
  let state = carrying.next();
  while (!state.done) state = carrying.next();
  const again = new OnBlocks(theirs.now);
  for (const step of state.value) again.step(step);
  return again.addTo(new Transform(again.doc));
}
