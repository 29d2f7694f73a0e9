import { Fragment } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import { changeIds, type ChangeId } from '@tea-pencil/core';
import type { Known } from './open-text.js';

/** Every change that steps name, as they came over the wire. */
export function namedChanges(steps: readonly object[]): Set<ChangeId> {
  const ids = new Set<ChangeId>();
  const waiting: unknown[] = [...steps];
  while (waiting.length) {
    const value = waiting.pop();
    if (typeof value !== 'object' || value === null) continue;
    const { change } = value as { change?: unknown };
    if (typeof change === 'string') ids.add(change);
    for (const each of Object.values(value)) waiting.push(each);
  }
  return ids;
}

/** Those of the named changes that an edit has brought into the text and that were not known before. */
export function freshChanges(
  named: Iterable<ChangeId>,
  { before, doc }: Transform,
  known: (id: ChangeId) => Known | undefined,
): Map<ChangeId, Known> {
  const unknown = [...named].filter((id) => !known(id));
  if (!unknown.length) return new Map();
  const had = new Set(before.children);
  const found = changeIds(doc.copy(Fragment.fromArray(doc.children.filter((block) => !had.has(block)))));
  return new Map(unknown.flatMap((id) => (found.has(id) ? [[id, found.get(id)!] as const] : [])));
}
