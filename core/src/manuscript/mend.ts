import { isSettled, isTableNode } from './grid.js';
import { atOnce } from './at-once.js';
import type { Node } from 'prosemirror-model';
import type { Loss } from './manuscript.js';
import { firstOpeningsMarked, mendChanges } from './mend-changes.js';
import { Mender, type Json } from './mender.js';
import { schema } from './schema.js';
import { signatureOf, type ChangeId, type Signature } from './signature.js';
import { harmOf } from './sound.js';

/**
 * Reading what is broken: a document that breaks the schema, or whose changes contradict each other, is read as well as
 * can be. All that is mended is counted and said; no letter is dropped.
 */

/** A document that can be worked with, and what had to be mended. */
export interface Mended {
  doc: Node;
  mends: Loss[];
}

/** Whether a document keeps to the schema and to the rules for changes, found out block by block. */
export function* soundInParts(doc: Node, now: string): Generator<undefined, boolean> {
  if (!doc.type.validContent(doc.content) || firstOpeningsMarked(doc) > 0) return false;
  const seen = new Map<ChangeId, Signature>();
  const isSigned = (node: Node) =>
    node.marks.every((mark) => {
      const signature = signatureOf(mark);
      if (!signature) return true;
      const { author, date } = seen.get(signature.change) ?? signature;
      seen.set(signature.change, signature);
      return author === signature.author && date === signature.date && date <= now;
    });
  for (const block of doc.children) {
    yield;
    try {
      block.check();
    } catch {
      return false;
    }
    let sound = !harmOf(block) && isSigned(block) && (!isTableNode(block) || isSettled(block));
    block.descendants((node) => (sound &&= isSigned(node)));
    if (!sound) return false;
  }
  return true;
}

/** Whether a document keeps to the schema and to the rules for changes; then there is nothing to mend. */
export const isSound = (doc: Node, now: string): boolean => atOnce(soundInParts(doc, now));

/**
 * Reads a document that may be broken.
 * @param json a document as `Node.toJSON` writes it, or something like it
 * @param now the latest date that a change can have, ISO 8601 in UTC to the second
 * @returns a document that keeps to the schema and to the rules for changes; a sound one comes back as it is
 */
export function mend(json: unknown, now: string): Mended {
  const mender = new Mender();
  const isNode = !!json && typeof json === 'object' && !Array.isArray(json);
  const given: Json = isNode ? json : { content: json };
  if (given.type !== 'doc') mender.note('something that is no document, taken for one');
  const blocks = mender.blocks(given.type === 'text' ? [given] : mender.contentOf(given), schema.nodes.doc);
  const doc = mendChanges(schema.nodes.doc.create(null, blocks), now, mender);
  doc.check();
  return { doc, mends: mender.list() };
}

/** The document itself where it is sound, else what can be made of it. */
export const mended = (doc: Node, now: string): Mended =>
  isSound(doc, now) ? { doc, mends: [] } : mend(doc.toJSON(), now);
