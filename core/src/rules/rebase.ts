import { Mapping, Transform, type Step } from 'prosemirror-transform';
import { OnBlocks } from '../row/on-blocks.js';

/** A mapping can be told that one of its maps undoes another, so that what the first removed is found again. */
type Mirroring = Mapping & { setMirror(one: number, other: number): void };

/**
 * A batch carried over what others did meanwhile, exactly as prosemirror-collab does it in an editor: undone, their steps
 * made, and made again as far as it still can be.
 * @param own the batch, on the text it was made on
 * @param others steps made on that same text
 * @returns the batch on the text that the others' steps lead to; steps whose place has gone are left out
 */
export function rebase(own: Transform, others: readonly Step[]): Transform {
  const undone = new OnBlocks(own.doc);
  const over = new Mapping() as Mirroring;
  const takeInto = (on: OnBlocks, step: Step): boolean => {
    if (on.try(step) !== null) return false;
    over.appendMap(step.getMap());
    return true;
  };
  const must = (step: Step) => {
    if (!takeInto(undone, step)) throw new RangeError('A step does not fit the text it was made on.');
  };
  for (let i = own.steps.length - 1; i >= 0; i--) must(own.steps[i]!.invert(own.docs[i]!));
  for (const step of others) must(step);
  const again = new OnBlocks(undone.now);
  let from = own.steps.length;
  for (const step of own.steps) {
    const mapped = step.map(over.slice(from));
    from--;
    if (mapped && takeInto(again, mapped)) over.setMirror(from, over.maps.length - 1);
  }
  return again.addTo(new Transform(again.doc));
}
