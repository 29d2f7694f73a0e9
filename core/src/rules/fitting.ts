import type { Node } from 'prosemirror-model';
import {
  AddMarkStep,
  AddNodeMarkStep,
  AttrStep,
  Mapping,
  RemoveMarkStep,
  RemoveNodeMarkStep,
  StepMap,
  type Step,
} from 'prosemirror-transform';
import { OnBlocks, reachOf } from '../row/on-blocks.js';

const nodeSteps = [AddNodeMarkStep, RemoveNodeMarkStep, AttrStep];
const isOfNode = (step: Step): step is AddNodeMarkStep | RemoveNodeMarkStep | AttrStep =>
  nodeSteps.some((kind) => step instanceof kind);
const movesNothing = (step: Step) => step instanceof AddMarkStep || step instanceof RemoveMarkStep || isOfNode(step);

/** By how much a step makes a text grow. */
export function grownBy(map: StepMap): number {
  let grown = 0;
  map.forEach((from, to, newFrom, newTo) => (grown += newTo - newFrom - (to - from)));
  return grown;
}

/** On which side of all those before it a step stands, and well away from them. */
export type Side = 'ahead' | 'behind';

/** What has not been carried out so far: how much of it, and by how much the text would have grown by it. */
export interface LeftOut {
  known: number;
  grown: number;
}

/** Over more maps than this it is not looked where they touched the text. */
const mostMaps = 200;

/** Which blocks of a text some steps have touched. */
class TouchedBlocks {
  readonly #starts: number[] = [];
  readonly #touched = new Set<number>();

  /** @param maps those of the steps that led to the text */
  constructor(
    readonly doc: Node,
    maps: readonly StepMap[],
  ) {
    doc.forEach((_, offset) => this.#starts.push(offset));
    const mapping = new Mapping(maps);
    maps.forEach((map, i) =>
      map.forEach((_from, _to, from, to) => {
        const since = mapping.slice(i + 1);
        const last = this.#indexAt(since.map(to, 1));
        for (let k = Math.max(0, this.#indexAt(since.map(from, -1)) - 1); k <= last + 1; k++) this.#touched.add(k);
      }),
    );
  }

  /** The last block that begins at a position or before it. */
  #indexAt(pos: number): number {
    let [low, high] = [0, this.#starts.length - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if (this.#starts[middle]! <= pos) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Whether the one block within which a stretch lies was touched; undefined where it lies within none. */
  isTouched({ from, to }: { from: number; to: number }): boolean | undefined {
    const k = this.#indexAt(from);
    const start = this.#starts[k];
    const inside = start !== undefined && from > start && to < start + this.doc.child(k).nodeSize;
    return inside ? this.#touched.has(k) : undefined;
  }
}

/**
 * Whether steps can still be carried out, one after the other, on the text they have been carried over to. What stands
 * within a block that the others did not touch can: it is not carried out for that.
 */
export class Fitting {
  #on: OnBlocks;
  readonly #touched: TouchedBlocks | null;
  /** Whether all that fits is carried out from now on. */
  #all: boolean;
  readonly #fit: Step[] = [];
  /** By how much the text would have grown by what was not carried out. */
  #left = 0;
  /** Where that stands on the text without any of the own steps, and by how much each makes it grow. */
  readonly #skipped: { at: number; grown: number }[] = [];
  readonly #movesNothing: boolean;

  constructor(
    own: readonly Step[],
    theirs: readonly StepMap[],
    readonly onto: Node,
  ) {
    this.#on = new OnBlocks(onto);
    this.#movesNothing = own.every(movesNothing);
    this.#all = theirs.length > mostMaps;
    this.#touched = this.#all || this.#movesNothing ? null : new TouchedBlocks(onto, theirs);
  }

  /** From now on all is carried out: something is not where it would have to be for less. */
  carryOutAll(): void {
    if (this.#all) return;
    this.#all = true;
    this.#on = new OnBlocks(this.onto);
    for (const step of this.#fit) this.#on.try(step);
  }

  /** What has not been carried out. */
  leftOut = (): LeftOut => ({ known: this.#skipped.length, grown: this.#left });

  /**
   * @param near what the step is on the text without any of the own ones before it, and of which group; null where that
   *   is not known
   */
  fits(step: Step, near: { bare: Step; side: Side; leftOut: LeftOut } | null): boolean {
    // Those that move nothing are not in one another's way, and marks can always be set and taken off.
    if (this.#movesNothing) return !isOfNode(step) || this.onto.nodeAt(step.pos)?.isText === false;
    const reach = near && reachOf(near.bare);
    const touched = reach ? this.#touched?.isTouched(reach) : undefined;
    if (touched === undefined) this.carryOutAll();
    if (this.#all || !near || !reach) {
      if (this.#on.try(step) !== null) return false;
    } else if (touched) {
      const grown = this.#leftOutAhead(reach.from, near.side, near.leftOut);
      const here = grown ? step.map(StepMap.offset(-grown)) : step;
      if (!here || this.#on.try(here) !== null) return false;
    } else {
      const grown = grownBy(step.getMap());
      this.#left += grown;
      if (grown) this.#skipped.push({ at: reach.from, grown });
    }
    this.#fit.push(step);
    return true;
  }

  /** By how much what stands ahead of a place would have made the text grow and was not carried out. */
  #leftOutAhead(pos: number, side: Side, { known, grown }: LeftOut): number {
    const ofGroup = this.#skipped.slice(known).filter(({ at }) => at < pos);
    return ofGroup.reduce((sum, one) => sum + one.grown, side === 'behind' ? grown : 0);
  }
}
