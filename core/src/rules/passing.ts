import type { Fragment, Node } from 'prosemirror-model';
import { AddMarkStep, AddNodeMarkStep, Mapping, ReplaceStep, type Step } from 'prosemirror-transform';
import { schema, type MarkName } from '../manuscript/schema.js';
import type { PersonId } from '../manuscript/people.js';

/** What a batch says in passing: words that a step brings in and a later one takes out again. */

const insertions: ReadonlySet<string> = new Set<MarkName>(['insertion', 'openingInserted']);
/** How much is looked at for one batch at most, in places of the text and in steps. Honest batches need a fraction. */
const most = 20_000_000;

const inserterOf = (node: Node): PersonId | undefined =>
  node.marks.find(({ type }) => insertions.has(type.name))?.attrs.author as PersonId | undefined;

/** A sign that stands for a node which is no text, from the private use area of Unicode. */
const signs = new Map(Object.values(schema.nodes).map((type, k) => [type, String.fromCharCode(0xe000 + k)]));

/** What stands in a stretch under the names of others, for each in the order of the text. */
function underOthers(content: Fragment, me: PersonId): Map<PersonId, string> {
  const found = new Map<PersonId, string>();
  const read = (nodes: Fragment, within: PersonId | undefined) =>
    nodes.forEach((node) => {
      const by = inserterOf(node) ?? within;
      if (by && by !== me) found.set(by, (found.get(by) ?? '') + (node.text ?? signs.get(node.type)));
      // What stands within a paragraph is not its opening's.
      if (!node.isText) read(node.content, node.isTextblock ? within : by);
    });
  read(content, undefined);
  return found;
}

/** Whether the letters of one text stand in another in that order. */
function standsIn(words: string, text: string): boolean {
  let at = -1;
  for (const letter of words) {
    at = text.indexOf(letter, at + 1);
    if (at < 0) return false;
  }
  return true;
}

/**
 * Whether a step of a batch brings in words under somebody else's name that did not stand there, be it only for the
 * next step to take them out again. Words of others that went may come back where they were.
 * @param before the text that the batch is made on
 * @param mapping the maps of the steps
 */
export function* bringsForeignWords(
  before: Node,
  steps: readonly Step[],
  mapping: Mapping,
  me: PersonId,
): Generator<undefined, boolean> {
  let looked = 0;
  for (const [i, step] of steps.entries()) {
    if (step instanceof AddMarkStep || step instanceof AddNodeMarkStep) {
      if (insertions.has(step.mark.type.name) && step.mark.attrs.author !== me) return true;
    } else if (step instanceof ReplaceStep && step.slice.size) {
      const brought = underOthers(step.slice.content, me);
      if (!brought.size) continue;
      // Not `mapping.slice(0, i).invert()`, which inverts the maps of later steps too (prosemirror-transform 1.12).
      const back = new Mapping(mapping.maps.slice(0, i)).invert();
      const [from, to] = [back.map(step.from, -1), back.map(step.to, 1)];
      looked += i + (to - from);
      if (looked > most) return true;
      const stood = underOthers(before.slice(from, to).content, me);
      for (const [by, words] of brought) if (!standsIn(words, stood.get(by) ?? '')) return true;
      yield;
    }
  }
  return false;
}
