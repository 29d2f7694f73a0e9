import type { Mark } from 'prosemirror-model';
import type { Signature } from '../manuscript/signature.js';
import { schema } from '../manuscript/schema.js';
import { inlineProperties, sameValue, withProperty, type Bearing, type Properties } from '../manuscript/properties.js';

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

const valueIn = ({ marks, attrs }: Bearing, name: string): unknown =>
  ({ ...inlineProperties(marks), ...attrs })[name] ?? null;

/** What an author's entries do not say rightly about a property, as after they have written in two windows at once. */
interface Misstated {
  name: string;
  stack: Entry[];
  /** Two entries of one change; or twice the topmost, where it says something else than the token has. */
  lower: number;
  upper: number;
}

function misstatedOf(bearing: Bearing, type: string, author: string): Misstated | null {
  const entries = entriesOf(bearing.marks, type);
  if (!entries.some((entry) => entry.author === author)) return null;
  for (const name of new Set(entries.flatMap(({ now }) => Object.keys(now)))) {
    const stack = about(entries, name);
    for (const [upper, { change, author: by, now }] of stack.entries()) {
      if (by !== author) continue;
      const lower = stack.findIndex((entry) => entry.change === change);
      const isTop = upper === stack.length - 1;
      if (lower < upper || (isTop && !sameValue(now[name] ?? null, valueIn(bearing, name))))
        return { name, stack, lower, upper };
    }
  }
  return null;
}

/** Whether an author's entries say two things about a property under one change, or something else than the token has. */
export const isMisstated = (bearing: Bearing, type: string, author: string): boolean =>
  !!misstatedOf(bearing, type, author);

/** A bearing in which each change of an author says one thing about a property, and the topmost what the token has. */
export function stated(bearing: Bearing, type: string, author: string): Bearing {
  let { marks, attrs } = bearing;
  for (let one = misstatedOf(bearing, type, author); one; one = misstatedOf({ marks, attrs }, type, author)) {
    const { name, stack, lower, upper } = one;
    const [first, last] = [stack[lower]!, stack[upper]!];
    const isTop = upper === stack.length - 1;
    const now = isTop ? valueIn({ marks, attrs }, name) : last.now[name];
    if (upper === lower) marks = setValues(marks, last, name, last.was[name], now);
    else if (upper === lower + 1) {
      const was = stack[lower - 1]?.now[name] ?? first.was[name];
      marks = setValues(dropProperty(marks, first, name), last, name, was, now);
    } else {
      // Somebody else's stands on the first; that one is theirs to have.
      marks = dropProperty(marks, last, name);
      if (isTop) ({ marks, attrs } = withProperty({ marks, attrs }, name, stack[upper - 1]!.now[name]));
    }
  }
  return { marks, attrs };
}

/** The value of each property if all entries about it are rejected. */
export function former(properties: Properties, marks: readonly Mark[], type: string): Properties {
  const before = { ...properties };
  const entries = entriesOf(marks, type);
  for (const name of new Set(entries.flatMap((entry) => Object.keys(entry.now))))
    before[name] = about(entries, name)[0]!.was[name];
  return before;
}
