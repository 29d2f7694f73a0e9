import { Mark, type Node } from 'prosemirror-model';
import { sameValue, type Properties } from '../../manuscript/properties.js';
import { schema } from '../../manuscript/schema.js';

/** Words as they are put together, and whether what is said of their changes is so. */

/** Puts words behind what is said already; runs that look alike are one. */
export function say(text: string, marks: readonly Mark[], into: Node[]): void {
  const last = into.at(-1);
  if (last?.isText && Mark.sameSet(last.marks, marks)) into[into.length - 1] = schema.text(last.text! + text, marks);
  else into.push(schema.text(text, marks));
}

const noNames: ReadonlySet<string> = new Set();

/** Whether what the topmost of a stack of entries says of each property is what the words have. */
export function isSo(
  mark: Mark,
  now: Properties,
  stack: readonly Mark[],
  besides: ReadonlySet<string> = noNames,
): boolean {
  const order = mark.attrs.order as number;
  return Object.entries(mark.attrs.now as Properties).every(
    ([name, value]) =>
      besides.has(name) ||
      stack.some((one) => (one.attrs.order as number) > order && name in (one.attrs.now as Properties)) ||
      sameValue(now[name] ?? null, value ?? null),
  );
}
