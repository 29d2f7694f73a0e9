import type { Node } from 'prosemirror-model';
import { Mapping, StepMap, Transform, type Step } from 'prosemirror-transform';
import { atOnce } from '../manuscript/at-once.js';
import { rangesOf } from '../row/maps.js';
import { OnBlocks, reachOf } from '../row/on-blocks.js';
import { Fitting, grownBy, type LeftOut, type Side } from './fitting.js';

/** A mapping can be told that one of its maps undoes another, so that what the first removed is found again. */
type Mirroring = Mapping & { setMirror(one: number, other: number): void };

/** Where some steps have changed something, all in all, and by how much the text has grown. */
class Extent {
  #from: number;
  #to: number;

  /** @param grown by how much the text has grown */
  constructor(
    from = Infinity,
    to = -Infinity,
    public grown = 0,
  ) {
    [this.#from, this.#to] = [from, to];
  }

  add(map: StepMap): void {
    this.move(map);
    map.forEach((_from, _to, newFrom, newTo) => {
      this.#from = Math.min(this.#from, newFrom);
      this.#to = Math.max(this.#to, newTo);
    });
    this.grown += grownBy(map);
  }

  /** Stays about what it is about while the text changes elsewhere. */
  move(map: StepMap): void {
    if (this.#from > this.#to) return; // it is about nothing yet
    this.#from = map.map(this.#from, -1);
    this.#to = map.map(this.#to, 1);
  }

  copy(): Extent {
    return new Extent(this.#from, this.#to, this.grown);
  }

  /** Where a step stands well behind all of it, or well ahead; null for any other. */
  sideOf(step: Step): Side | null {
    const { from, to } = reachOf(step);
    if (from > this.#to) return 'behind';
    return to + 1 < this.#from ? 'ahead' : null; // a step at a node reaches into it
  }

  /** What moves a position behind it as all of it did, and back. */
  forth = (): StepMap[] => (this.grown ? [StepMap.offset(this.grown)] : []);
  back = (): StepMap[] => (this.grown ? [StepMap.offset(-this.grown)] : []);
}

/** A step carried over, and what it is on the text without any of the steps before it. */
interface Carried {
  there: Step | null;
  bare: Step | null;
  side: Side;
  leftOut: LeftOut;
}

/** About how many steps that move something one group has: each is carried over all those of its group before it. */
const ofGroup = 100;

/**
 * Steps that may stand close to one another, and well away from all before them: of those only by how much they moved the
 * text matters.
 */
class Group {
  /** What undid the steps of the group, and what made them again, where they could be. */
  readonly #members: { undone: StepMap; again: StepMap | null }[] = [];
  readonly #before: Extent;
  readonly #after: Extent;

  /**
   * @param side of all steps before it
   * @param before the extent of those as they were
   * @param after the extent of those that were made again
   */
  constructor(
    readonly side: Side,
    before: Extent,
    after: Extent,
    readonly theirs: readonly StepMap[],
    readonly leftOut: LeftOut,
  ) {
    [this.#before, this.#after] = [before.copy(), after.copy()];
  }

  get isFull(): boolean {
    return this.#members.length >= ofGroup;
  }

  /** A step carried over; undefined where it does not belong to the group. */
  carry(step: Step): Carried | undefined {
    if (this.#before.sideOf(step) !== this.side) return undefined;
    const mapping = new Mapping() as Mirroring;
    for (const { undone } of this.#members.toReversed()) mapping.appendMap(undone);
    const [back, forth] = this.side === 'behind' ? [this.#before.back(), this.#after.forth()] : [[], []];
    for (const map of [...back, ...this.theirs]) mapping.appendMap(map);
    const bare = step.map(mapping);
    for (const map of forth) mapping.appendMap(map);
    for (const [i, { again }] of this.#members.entries())
      if (again) {
        mapping.appendMap(again);
        mapping.setMirror(this.#members.length - 1 - i, mapping.maps.length - 1);
      }
    const there = step.map(mapping);
    const { side, leftOut } = this;
    return !there || this.#after.sideOf(there) === side ? { there, bare, side, leftOut } : undefined;
  }

  /** @param again null where the step could not be made again */
  add(undone: StepMap, again: StepMap | null): void {
    this.#members.push({ undone, again });
    this.#before.move(undone.invert());
    if (again) this.#after.move(again);
  }
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
  const fitting = new Fitting(own, theirs, onto);
  /** A step that stands well away from all before it: of those only by how much they moved the text matters. */
  const quickly = (step: Step, side: Side): Carried | undefined => {
    const behind = side === 'behind';
    const bare = step.map(new Mapping(behind ? [...before.back(), ...theirs] : theirs));
    const there = behind && bare ? bare.map(new Mapping(after.forth())) : bare;
    return !there || after.sideOf(there) === side ? { there, bare, side, leftOut: fitting.leftOut() } : undefined;
  };
  const result: Step[] = [];
  /** The group of the last step, and the one before it with all of that in it, for a step that goes back. */
  let groups: Group[] = [];
  for (const { step, at, end } of undone.reverse()) {
    yield;
    const side = before.sideOf(step);
    if (side && (!groups[0] || groups[0].isFull || groups[0].side !== side))
      groups = [new Group(side, before, after, theirs, fitting.leftOut()), ...groups.slice(0, 1)];
    let near = side ? quickly(step, side) : undefined;
    while (!near && groups[0] && !(near = groups[0].carry(step))) groups.shift();
    const mapped = near ? near.there : step.map(over.slice(end));
    if (!mapped) fitting.carryOutAll();
    const again = mapped && fitting.fits(mapped, near?.bare ? { ...near, bare: near.bare } : null) ? mapped : null;
    if (again) result.push(again);
    if (at === null) continue; // it moves nothing, here or there
    const [was, is] = [step.getMap(), again?.getMap() ?? null];
    before.add(was);
    for (const one of groups) one.add(was.invert(), is);
    if (!is) continue;
    after.add(is);
    const index = add(is);
    if (index !== null) over.setMirror(at, index);
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
