import type { ChangeKind, Change } from '../changes/list.js';
import { changeKinds } from '../changes/list.js';
import type { PersonId } from '../manuscript/people.js';
import type { ChangeId } from '../manuscript/signature.js';

/** What is still pending when a fair copy is to be made, and what becomes of it. */

/** What can become of a pending change: it is decided, or stays pending and is seen in the marked copy only. */
export const fates = ['accept', 'reject', 'keep'] as const;
export type Fate = (typeof fates)[number];

/** The pending changes of one kind by one person. */
export interface Remaining {
  author: PersonId;
  kind: ChangeKind;
  many: number;
}

/** What becomes of them, as somebody has chosen who has seen so many of them. */
export interface Chosen extends Remaining {
  fate: Fate;
}

type Pending = Pick<Change, 'id' | 'author' | 'kind'>;

const keyOf = ({ author, kind }: Pick<Remaining, 'author' | 'kind'>) => `${kind} ${author}`;

/** How many changes of each kind are pending, by whom; the kinds in their order, then whose there are most of. */
export function remainingOf(changes: readonly Pending[]): Remaining[] {
  const groups = new Map<string, Remaining>();
  for (const { author, kind } of changes) {
    const key = keyOf({ author, kind });
    const group = groups.get(key) ?? { author, kind, many: 0 };
    group.many++;
    groups.set(key, group);
  }
  return [...groups.values()].sort(
    (a, b) => changeKinds.indexOf(a.kind) - changeKinds.indexOf(b.kind) || b.many - a.many,
  );
}

/**
 * The changes by what becomes of them.
 * @returns null where others are pending than were seen when that was chosen: nothing is decided that nobody has looked at
 */
export function fatesOf(
  changes: readonly Pending[],
  chosen: readonly Chosen[],
): Readonly<Record<Fate, ChangeId[]>> | null {
  const fateOf = new Map(chosen.map((one) => [keyOf(one), one]));
  const now = remainingOf(changes);
  if (now.length !== fateOf.size || now.some((group) => fateOf.get(keyOf(group))?.many !== group.many)) return null;
  const all: Record<Fate, ChangeId[]> = { accept: [], reject: [], keep: [] };
  for (const change of changes) all[fateOf.get(keyOf(change))!.fate].push(change.id);
  return all;
}
