import { Fragment, type Node } from 'prosemirror-model';
import { plainText, resolve } from './readings.js';
import type { Change } from '../changes/list.js';
import type { Verdict } from '../changes/verdict.js';

/** What would be wrong with the spaces if two changes that touch were decided differently. */
export interface SpaceTrouble {
  trouble: 'doubled' | 'missing';
  /** What would be decided about the change itself; about the other one the opposite. */
  verdict: Verdict;
  other: Change;
}

/** The blocks a change stands in and their neighbours, as a document of their own. */
function around(doc: Node, { ranges }: Change): Node {
  const first = Math.max(0, doc.resolve(ranges[0].from).index(0) - 1);
  const end = doc.resolve(Math.min(ranges[0].to, doc.content.size)).indexAfter(0) + 1;
  return doc.copy(Fragment.fromArray(doc.children.slice(first, end)));
}

const touches = (a: Change, b: Change): boolean =>
  a.ranges.some((one) => b.ranges.some((other) => one.from <= other.to && other.from <= one.to));

const wordsOf = (text: string) => text.split(/\s+/).filter(Boolean);
const doubled = (text: string) => text.split(/\S {2,}(?=\S)/).length - 1;

/** Whether a text has a word that is two words of the others run together. */
function runsTogether(text: string, others: readonly string[]): boolean {
  const known = new Set(others.flatMap(wordsOf));
  return wordsOf(text).some((word) => {
    if (known.has(word)) return false;
    for (let i = 1; i < word.length; i++) if (known.has(word.slice(0, i)) && known.has(word.slice(i))) return true;
    return false;
  });
}

/**
 * Whether deciding a change one way and one that touches it the other would leave a doubled or missing space that stands
 * in neither text; all that is pending besides is taken as accepted.
 * @returns the first such trouble, or null
 */
export function spaceTrouble(doc: Node, change: Change, changes: readonly Change[]): SpaceTrouble | null {
  const part = around(doc, change);
  for (const other of changes) {
    if (other.id === change.id || !touches(change, other)) continue;
    const text = (mine: Verdict, its: Verdict) =>
      plainText(resolve(part, (id) => (id === change.id ? mine : id === other.id ? its : 'accept')));
    const whole = [text('accept', 'accept'), text('reject', 'reject')];
    const most = whole.map(doubled).reduce((a, b) => Math.max(a, b));
    for (const verdict of ['accept', 'reject'] as const) {
      const mixed = text(verdict, verdict === 'accept' ? 'reject' : 'accept');
      if (doubled(mixed) > most) return { trouble: 'doubled', verdict, other };
      if (runsTogether(mixed, whole)) return { trouble: 'missing', verdict, other };
    }
  }
  return null;
}
