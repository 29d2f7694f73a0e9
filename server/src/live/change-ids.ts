import type { Node } from 'prosemirror-model';
import { findChange, type ChangeId } from '@tea-pencil/core';
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

/** Those of the named changes that stand in a text and were not known before. */
export function freshChanges(
  named: Iterable<ChangeId>,
  doc: Node,
  known: (id: ChangeId) => Known | undefined,
): Map<ChangeId, Known> {
  const fresh = new Map<ChangeId, Known>();
  for (const id of named) {
    const found = known(id) ? null : findChange(doc, id);
    if (found) fresh.set(id, { author: found.author, date: found.date });
  }
  return fresh;
}
