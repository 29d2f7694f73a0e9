import type { Mark, Node } from 'prosemirror-model';
import {
  AddMarkStep,
  AddNodeMarkStep,
  RemoveMarkStep,
  RemoveNodeMarkStep,
  ReplaceStep,
  type Step,
} from 'prosemirror-transform';
import type { PersonId } from '../manuscript/people.js';
import { reviewMarks } from '../manuscript/schema.js';

/**
 * What happens between the first and the last step of a batch: each step is kept in the log, so that none may say what
 * its sender may not say, though a later one takes it back.
 */

type Stretch = readonly [from: number, to: number];

/** Where a step works: in the text before it, and in the text after it. */
function* stretchesOf(step: Step): Generator<{ old: Stretch; fresh: Stretch }> {
  if (step instanceof AddMarkStep || step instanceof RemoveMarkStep) {
    const both: Stretch = [step.from, step.to];
    yield { old: both, fresh: both };
  } else if (step instanceof AddNodeMarkStep || step instanceof RemoveNodeMarkStep) {
    const both: Stretch = [step.pos, step.pos + 1];
    yield { old: both, fresh: both };
  } else {
    const found: { old: Stretch; fresh: Stretch }[] = [];
    step.getMap().forEach((...[from, to, start, end]) => void found.push({ old: [from, to], fresh: [start, end] }));
    yield* found;
  }
}

/** How much of what bears marks of others there is: by letter (or node) and marks, how many. */
class Borne {
  readonly #counts = new Map<string, number>();

  constructor(readonly author: PersonId) {}

  /** Counts what stands in a stretch up or down. @returns whether it was there to be counted down */
  count(doc: Node, [from, to]: Stretch, by: 1 | -1): boolean {
    let all = true;
    const add = (what: string, marks: readonly Mark[]) => {
      const others = marks.filter(({ type, attrs }) => reviewMarks.has(type.name) && attrs.author !== this.author);
      if (!others.length) return;
      const key = `${what} ${others
        .map(({ type, attrs }) => type.name + JSON.stringify(attrs))
        .sort()
        .join()}`;
      const now = (this.#counts.get(key) ?? 0) + by;
      this.#counts.set(key, now);
      all &&= now >= 0;
    };
    doc.nodesBetween(from, to, (node, pos) => {
      if (node.text === undefined) {
        if (pos >= from && pos < to) add(node.type.name, node.marks);
        return true;
      }
      if (node.marks.some(({ type }) => reviewMarks.has(type.name)))
        for (const letter of node.text.slice(Math.max(0, from - pos), to - pos)) add(letter, node.marks);
      return false;
    });
    return all;
  }
}

const isOfOthers = (mark: Mark, author: PersonId) => reviewMarks.has(mark.type.name) && mark.attrs.author !== author;

/** Whether a step may bring in marks of others at all; most do not, and need no closer look. */
function bringsOthers(step: Step, author: PersonId): boolean {
  if (step instanceof AddMarkStep || step instanceof AddNodeMarkStep) return isOfOthers(step.mark, author);
  if (!(step instanceof ReplaceStep)) return false;
  let brings = false;
  step.slice.content.descendants((node) => {
    brings ||= node.marks.some((mark) => isOfOthers(mark, author));
    return !brings;
  });
  return brings;
}

/**
 * Whether every step of a batch brings in no more under the names of others than the steps before it, or it itself, have
 * taken out: what is put back is theirs, anything else would be words in their mouths.
 * @returns null when it does, else a sentence
 */
export function checkMeanwhile(before: Node, steps: readonly Step[], author: PersonId): string | null {
  if (!steps.some((step) => bringsOthers(step, author))) return null;
  const borne = new Borne(author);
  let doc = before;
  for (const step of steps) {
    const after = step.apply(doc).doc;
    if (!after) return 'This is no change that can be made to a manuscript.';
    const places = [...stretchesOf(step)];
    for (const { old } of places) borne.count(doc, old, 1);
    for (const { fresh } of places) if (!borne.count(after, fresh, -1)) return 'New words bear somebody else’s marks.';
    doc = after;
  }
  return null;
}
