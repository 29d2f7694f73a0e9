import { Fragment, type Node } from 'prosemirror-model';
import { StepMap, type Step, type Transform } from 'prosemirror-transform';

/** Whoever carries steps out. */
export interface Stepping {
  step(step: Step): unknown;
}

/** A step that was carried out: the blocks that it found at a place, and those it left there. */
interface Exchange {
  step: Step;
  /** The step as it is on those blocks alone, and where they began. */
  here: Step;
  start: number;
  at: number;
  was: readonly Node[];
  now: readonly Node[];
}

/** What a transform does with a step that has been carried out already; it is there, but not among its types. */
interface Whole extends Transform {
  addStep(step: Step, doc: Node): void;
}

/** Where a step does something, both ends included: a set of steps where one of them does. */
export function reachOf(step: Step): { from: number; to: number } {
  const { pos, from, to, steps } = step as Step & { pos?: number; from?: number; to?: number; steps?: readonly Step[] };
  if (!steps?.length) return { from: from ?? pos ?? 0, to: to ?? pos ?? 0 };
  return steps.map(reachOf).reduce((a, b) => ({ from: Math.min(a.from, b.from), to: Math.max(a.to, b.to) }));
}

/**
 * The blocks of a document that steps are carried out on, each step on the few blocks it touches: in a long document
 * every step would cost as much as that is long. Steps that come from right to left, or from left to right, find their
 * blocks at once.
 */
export class OnBlocks implements Stepping {
  readonly #blocks: Node[];
  readonly #exchanges: Exchange[] = [];
  /** A block, and where it begins. */
  #index = 0;
  #pos = 0;

  constructor(readonly doc: Node) {
    this.#blocks = [...doc.children];
  }

  /** The blocks as they are now. */
  get blocks(): readonly Node[] {
    return this.#blocks;
  }

  #sizeAt = (index: number): number => this.#blocks[index]?.nodeSize ?? 0;

  #back(): void {
    if (this.#index > 0) this.#pos -= this.#sizeAt(--this.#index);
  }

  /** Goes to the block that a position lies in; to the earlier one of two that meet there. */
  #goTo(pos: number): void {
    while (this.#index > 0 && this.#pos >= pos) this.#back();
    while (this.#index < this.#blocks.length - 1 && this.#pos + this.#sizeAt(this.#index) < pos)
      this.#pos += this.#sizeAt(this.#index++);
  }

  /** @throws RangeError where the step cannot be carried out */
  step(step: Step): void {
    const failed = this.try(step);
    if (failed !== null) throw new RangeError(`This step cannot be carried out: ${failed}`);
  }

  /**
   * Carries a step out if it can be.
   * @returns why not, or null
   */
  try(step: Step): string | null {
    const { from, to } = reachOf(step);
    if (from > to) return 'It ends before it begins.'; // moving it along would turn it round
    this.#goTo(from);
    // At least one block more on either side, and paragraphs at the ends, so that what is around a step is there too.
    do this.#back();
    while (this.#index > 0 && !this.#blocks[this.#index]?.isTextblock);
    const at = this.#index;
    let end = at;
    for (let pos = this.#pos; end < this.#blocks.length && pos <= to; end++) pos += this.#sizeAt(end);
    while (end < this.#blocks.length && !this.#blocks[end]?.isTextblock) end++;
    const here = step.map(StepMap.offset(-this.#pos));
    if (here) return this.#exchange({ step, here, start: this.#pos, at }, end + 1);
    // One that touches nothing has no such form.
    return this.#exchange({ step, here: step, start: 0, at: 0 }, this.#blocks.length);
  }

  /** @param end up to which block the step is carried out */
  #exchange(one: Omit<Exchange, 'was' | 'now'>, end: number): string | null {
    const { here, at } = one;
    const was = this.#blocks.slice(at, end);
    const { doc, failed } = here.apply(this.doc.copy(Fragment.fromArray(was)));
    if (!doc) return failed ?? '';
    this.#blocks.splice(at, was.length, ...doc.children);
    this.#exchanges.push({ ...one, was, now: doc.children });
    return null;
  }

  /** The steps that undo all that was done, the last first; one by one. */
  *inverses(): Generator<undefined, Step[]> {
    const inverses: Step[] = [];
    for (const { here, start, was } of this.#exchanges.toReversed()) {
      const inverse = here.invert(this.doc.copy(Fragment.fromArray([...was])));
      const there = start ? inverse.map(StepMap.offset(start)) : inverse;
      if (there) inverses.push(there);
      yield;
    }
    return inverses;
  }

  /** The document as it is now. */
  get now(): Node {
    return this.doc.copy(Fragment.fromArray([...this.#blocks]));
  }

  /**
   * Adds all that was done to a transform of the same document. Texts in between are made only if someone asks.
   * @returns the same transform
   */
  addTo(tr: Transform): Transform {
    const { doc } = this;
    const first = tr.steps.length;
    const done = this.now;
    const between = { n: 0, blocks: [...doc.children] };
    const docBefore = (n: number): Node => {
      while (between.n < n) exchange(between.blocks, this.#exchanges[between.n++], 'was', 'now');
      while (between.n > n) exchange(between.blocks, this.#exchanges[--between.n], 'now', 'was');
      return doc.copy(Fragment.fromArray([...between.blocks]));
    };
    this.#exchanges.forEach(({ step }, n) => {
      (tr as Whole).addStep(step, done);
      if (n > 0)
        Object.defineProperty(tr.docs, first + n, { get: () => docBefore(n), enumerable: true, configurable: true });
    });
    return tr;
  }
}

function exchange(blocks: Node[], one: Exchange | undefined, gone: 'was' | 'now', come: 'was' | 'now'): void {
  if (one) blocks.splice(one.at, one[gone].length, ...one[come]);
}
