import { Transform, type Mapping, type Step } from 'prosemirror-transform';

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
  const over = new Transform(own.doc);
  for (let i = own.steps.length - 1; i >= 0; i--) over.step(own.steps[i]!.invert(own.docs[i]!));
  for (const step of others) over.step(step);
  const result = new Transform(over.doc);
  let from = own.steps.length;
  for (const step of own.steps) {
    const mapped = step.map(over.mapping.slice(from));
    from--;
    if (!mapped || over.maybeStep(mapped).failed) continue;
    (over.mapping as Mirroring).setMirror(from, over.steps.length - 1);
    result.step(mapped);
  }
  return result;
}
