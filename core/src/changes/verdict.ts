import type { Mark } from 'prosemirror-model';
import type { ChangeId } from '../manuscript/signature.js';
import { withProperty, type Bearing } from '../manuscript/properties.js';
import { about, dropProperty, entriesOf, setWas, type Entry } from '../row/entries.js';
import { deletionName, entryName, insertionName, type Token } from '../row/row.js';

export type Verdict = 'accept' | 'reject';

/** What is decided about a change; undefined leaves it pending. */
export type Judge = (change: ChangeId, author: string) => Verdict | undefined;

const judged = (judge: Judge, mark: Mark) => judge(mark.attrs.change as string, mark.attrs.author as string);

/** Accepting a value settles its property: entries below lose it, the next above takes it as its former value. */
function acceptEntry(bearing: Bearing, type: string, entry: Entry, name: string): Bearing {
  let { marks } = bearing;
  const stack = about(entriesOf(marks, type), name);
  const place = stack.findIndex((other) => other.change === entry.change);
  const value = stack[place]!.now[name];
  const above = stack[place + 1];
  if (above) marks = setWas(marks, above, name, value);
  for (const settled of stack.slice(0, place + 1)) {
    const current = about(entriesOf(marks, type), name).find((other) => other.change === settled.change)!;
    marks = dropProperty(marks, current, name);
  }
  return { marks, attrs: bearing.attrs };
}

/** Rejecting a value gives back the one below it, or hands its former value to the entry above. */
function rejectEntry(bearing: Bearing, type: string, entry: Entry, name: string): Bearing {
  let { marks } = bearing;
  const stack = about(entriesOf(marks, type), name);
  const place = stack.findIndex((other) => other.change === entry.change);
  const current = stack[place]!;
  const below = stack[place - 1];
  const former = below ? below.now[name] : current.was[name];
  const above = stack[place + 1];
  marks = dropProperty(marks, current, name);
  if (above) return { marks: setWas(marks, above, name, former), attrs: bearing.attrs };
  return withProperty({ marks, attrs: bearing.attrs }, name, former);
}

/**
 * What becomes of one token under the verdicts: its bearing, or null when it goes. Everything that decides is this
 * function of one token, so the order of decisions can make no difference.
 */
export function decideToken(token: Pick<Token, 'kind' | 'node'>, judge: Judge): Bearing | null {
  const insertion = insertionName(token);
  const deletion = deletionName(token);
  const type = entryName(token);
  let bearing: Bearing = { marks: token.node.marks, attrs: token.node.attrs };
  const entries: Entry[] = [];
  for (const mark of token.node.marks) {
    const { name } = mark.type;
    if (name !== insertion && name !== deletion && name !== type) continue;
    const verdict = judged(judge, mark);
    if (!verdict) continue;
    if (name === type) entries.push(...entriesOf([mark], type));
    else if ((name === insertion) === (verdict === 'reject')) return null;
    else bearing = { marks: mark.removeFromSet(bearing.marks), attrs: bearing.attrs };
  }
  for (const entry of entries) {
    const decideEntry = judged(judge, entry.mark) === 'accept' ? acceptEntry : rejectEntry;
    for (const name of Object.keys(entry.now)) {
      // An accepted entry above may have settled this property already.
      const still = about(entriesOf(bearing.marks, type), name).some((other) => other.change === entry.change);
      if (still) bearing = decideEntry(bearing, type, entry, name);
    }
  }
  return bearing;
}
