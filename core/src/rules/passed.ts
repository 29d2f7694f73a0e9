import type { Mark, Node } from 'prosemirror-model';
import type { Blocks } from '../row/touched.js';

const same = (a: readonly Node[], b: readonly Node[], are: (one: Node, other: Node) => boolean): boolean =>
  a.length === b.length && a.every((node, i) => are(node, b[i]!));

/**
 * The parts of a batch that were found right. When it is looked at again, carried over what others did meanwhile, those
 * that nobody has touched need not be: they lead from the very same blocks to the same ones.
 */
export class Passed {
  readonly #parts = new Map<Node, Blocks>();
  /** The sender's own marks in them. */
  readonly marks = new Set<Mark>();

  add(part: Blocks): void {
    const [first] = part.before;
    if (first) this.#parts.set(first, part);
  }

  has({ before, after }: Blocks): boolean {
    const part = before[0] && this.#parts.get(before[0]);
    return (
      !!part && same(part.before, before, (one, other) => one === other) && same(part.after, after, (a, b) => a.eq(b))
    );
  }
}
