import type { Node } from 'prosemirror-model';
import { Mapping, StepMap, Transform, type Step } from 'prosemirror-transform';
import { atOnce } from '../manuscript/at-once.js';
import { rangesOf } from '../row/maps.js';
import { OnBlocks, reachOf } from '../row/on-blocks.js';
import { Fitting, grownBy, type Side } from './fitting.js';

/** A mapping can be told that one of its maps undoes another, so that what the first removed is found again. */
type Mirroring = Mapping & { setMirror(one: number, other: number): void };

/** Where some steps have changed something, all in all, and by how much the text has grown. */
class Extent {
  #from = Infinity;
  #to = -Infinity;
  grown = 0;

  add(map: StepMap): void {
    if (this.#from <= this.#to) {
      this.#from = map.map(this.#from, -1);
      this.#to = map.map(this.#to, 1);
    }
    map.forEach((_from, _to, newFrom, newTo) => {
      this.#from = Math.min(this.#from, newFrom);
      this.#to = Math.max(this.#to, newTo);
    });
    this.grown += grownBy(map);
  }

  /** Whether a step stands well behind all of it, or well ahead. */
  isBehind = (step: Step): boolean => reachOf(step).from > this.#to;
  isAhead = (step: Step): boolean => reachOf(step).to + 1 < this.#from; // a step at a node reaches into it

  /** What moves a position behind it as all of it did, and back. */
  forth = (): StepMap[] => (this.grown ? [StepMap.offset(this.grown)] : []);
  back = (): StepMap[] => (this.grown ? [StepMap.offset(-this.grown)] : []);
}

/**
 * Steps carried over what others did meanwhile, exactly as prosemirror-collab does it in an editor: undone, their steps
 * made, and made again as far as it still can be. One by one: whoever has others waiting lets them go on in between.
 * @param own steps made one after the other on some text
 * @param theirs the maps of steps made on that same text, one by one or composed
 * @param onto the text that those lead to
 * @returns the steps on top of it; those whose place has gone are left out
 */
export function* carriedOver(
  own: readonly Step[],
  theirs: readonly StepMap[],
  onto: Node,
): Generator<undefined, Step[]> {
  const over = new Mapping() as Mirroring;
  // Maps that move nothing are left out: with thousands of marks they would be gone through again and again.
  const add = (map: StepMap): number | null => {
    if (!rangesOf(map).length) return null;
    over.appendMap(map);
    return over.maps.length - 1;
  };
  const undone = [...own].reverse().map((step) => ({ step, at: add(step.getMap().invert()), end: over.maps.length }));
  theirs.forEach(add);
  const [before, after] = [new Extent(), new Extent()];
  /** A step that stands well away from those before it: only the others' maps matter then. Undefined for any other. */
  const quickly = (step: Step): { step: Step | null; side: Side } | undefined => {
    const behind = before.isBehind(step);
    if (!behind && !before.isAhead(step)) return undefined;
    const side = behind ? 'behind' : 'ahead';
    const bare = step.map(new Mapping(behind ? [...before.back(), ...theirs] : theirs));
    if (!bare) return { step: null, side };
    const there = behind ? bare.map(new Mapping(after.forth())) : bare;
    return there && (behind ? after.isBehind(there) : after.isAhead(there)) ? { step: there, side } : undefined;
  };
  const fitting = new Fitting(own, theirs, onto);
  const result: Step[] = [];
  for (const { step, at, end } of undone.reverse()) {
    yield;
    const quick = quickly(step);
    const mapped = quick === undefined ? step.map(over.slice(end)) : quick.step;
    before.add(step.getMap());
    if (!mapped) fitting.carryOutAll();
    if (!mapped || !fitting.fits(mapped, quick?.side ?? null, after.grown)) continue;
    after.add(mapped.getMap());
    const again = add(mapped.getMap());
    if (at !== null && again !== null) over.setMirror(at, again);
    result.push(mapped);
  }
  return result;
}

/**
 * A batch carried over what others did meanwhile (see `carriedOver`).
 * @param own the batch, on the text it was made on
 * @param others steps made on that same text
 * @returns the batch on the text that the others' steps lead to
 */
export function rebase(own: Transform, others: readonly Step[]): Transform {
  const theirs = new OnBlocks(own.before);
  for (const step of others) theirs.step(step);
  const again = new OnBlocks(theirs.now);
  const maps = others.map((step) => step.getMap());
  for (const step of atOnce(carriedOver(own.steps, maps, again.doc))) again.step(step);
  return again.addTo(new Transform(again.doc));
}
