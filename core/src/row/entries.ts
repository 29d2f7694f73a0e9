import type { Mark } from 'prosemirror-model';
import type { Signature } from '../manuscript/signature.js';
import { schema } from '../manuscript/schema.js';
import type { Properties } from '../manuscript/properties.js';

/**
 * Recorded changes of properties, `formatting` and `restyled` marks. Those of one property stack by `order`; the value a
 * token has is always the `now` of the topmost.
 */

export interface Entry {
  mark: Mark;
  order: number;
  change: string;
  author: string;
  was: Properties;
  now: Properties;
}

const toEntry = (mark: Mark): Entry => ({ mark, ...(mark.attrs as Omit<Entry, 'mark'>) });

/** The entries among the marks, the lowest first. */
export function entriesOf(marks: readonly Mark[], type: string): Entry[] {
  return marks
    .filter((mark) => mark.type.name === type)
    .map(toEntry)
    .sort((a, b) => a.order - b.order || (a.change < b.change ? -1 : 1));
}

/** Of those entries, the ones that concern a property. */
export const about = (entries: readonly Entry[], property: string): Entry[] =>
  entries.filter((entry) => property in entry.now);

const without = (properties: Properties, name: string): Properties => {
  const { [name]: _, ...rest } = properties;
  return rest;
};

/** The marks with an entry's properties replaced; an entry about nothing goes. */
function withEntry(marks: readonly Mark[], entry: Entry, was: Properties, now: Properties): readonly Mark[] {
  const rest = entry.mark.removeFromSet(marks);
  if (Object.keys(now).length === 0) return rest;
  return entry.mark.type.create({ ...entry.mark.attrs, was, now }).addToSet(rest);
}

/** The marks after an entry stopped being about a property. */
export const dropProperty = (marks: readonly Mark[], entry: Entry, name: string): readonly Mark[] =>
  withEntry(marks, entry, without(entry.was, name), without(entry.now, name));

/** The marks after an entry's former value of a property changed. */
export const setWas = (marks: readonly Mark[], entry: Entry, name: string, was: unknown): readonly Mark[] =>
  withEntry(marks, entry, { ...entry.was, [name]: was }, entry.now);

/** The marks after both values of a property changed in an entry. */
export const setValues = (marks: readonly Mark[], entry: Entry, name: string, was: unknown, now: unknown) =>
  withEntry(marks, entry, { ...entry.was, [name]: was }, { ...entry.now, [name]: now });

/** The marks with a new entry on top of all others. */
export function pushEntry(
  marks: readonly Mark[],
  type: 'formatting' | 'restyled',
  signature: Signature,
  was: Properties,
  now: Properties,
): readonly Mark[] {
  const order = 1 + Math.max(0, entriesOf(marks, type).at(-1)?.order ?? 0);
  return schema.marks[type].create({ ...signature, order, was, now }).addToSet(marks);
}

/** The value of each property if all entries about it are rejected. */
export function former(properties: Properties, marks: readonly Mark[], type: string): Properties {
  const before = { ...properties };
  const entries = entriesOf(marks, type);
  for (const name of new Set(entries.flatMap((entry) => Object.keys(entry.now))))
    before[name] = about(entries, name)[0]!.was[name];
  return before;
}
