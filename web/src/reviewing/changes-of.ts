import type { Node } from 'prosemirror-model';
import { listChanges, type Change } from '@tea-pencil/core';

const known = new WeakMap<Node, Change[]>();

/** The pending changes of a document, listed once however many ask. */
export function changesOf(doc: Node): Change[] {
  let changes = known.get(doc);
  if (!changes) known.set(doc, (changes = listChanges(doc)));
  return changes;
}
