import { isSettled, isTableNode } from './grid.js';
import { atOnce } from './at-once.js';
import { Fragment, type Node } from 'prosemirror-model';
import type { Loss } from './manuscript.js';
import { firstOpeningsMarked, mendChanges } from './mend-changes.js';
import { Mender, type Json } from './mender.js';
import { schema } from './schema.js';
import { signatureOf, type ChangeId, type Signature } from './signature.js';
import { harmOf } from './sound.js';
import { asText } from './values.js';

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

/** Every letter that stands in data, in the order in which it stands there, however deep. */
function lettersIn(json: unknown): string {
  const found: string[] = [];
  const left = [json];
  while (left.length) {
    const next = left.pop();
    if (typeof next === 'string') found.push(next);
    else if (Array.isArray(next)) for (let i = next.length - 1; i >= 0; i--) left.push(next[i]);
    else if (next && typeof next === 'object') left.push((next as Json).content, (next as Json).text);
  }
  return asText(found.join(''));
}

/** The letters of a part that could not be mended, as a plain paragraph. */
function plainly(json: unknown, mender: Mender): Node {
  mender.note('a part that could not be read, its letters kept as plain words');
  const letters = lettersIn(json);
  return schema.nodes.paragraph.create(null, letters ? schema.text(letters) : null);
}

/** The blocks of a document, each as well as it can be read. */
function readBlocks(given: readonly Json[], mender: Mender): Fragment {
  try {
    return mender.blocks(given, schema.nodes.doc);
  } catch {
    // One block after the other, for the others may be sound.
    const blocks = given.flatMap((json): readonly Node[] => {
      try {
        return mender.blocks([json], schema.nodes.doc).content;
      } catch {
        return [plainly(json, mender)];
      }
    });
    return Fragment.fromArray(mender.between(blocks));
  }
}

/** A document with the changes mended, and in place of each block that is not sound even then its letters. */
function settle(doc: Node, now: string, mender: Mender): Node {
  const mended = mendChanges(doc, now, mender);
  if (isSound(mended, now)) return mended;
  const blocks = mended.children.map((block) =>
    isSound(doc.type.create(null, [empty, block, empty]), now) ? block : plainly(block.toJSON(), mender),
  );
  return doc.copy(Fragment.fromArray(mender.between(blocks)));
}
const empty = schema.nodes.paragraph.create();

/**
 * Reads a document that may be broken. It never throws: of a part that cannot be mended the letters stay.
 * @param json a document as `Node.toJSON` writes it, or something like it
 * @param now the latest date that a change can have, ISO 8601 in UTC to the second
 * @returns a document that keeps to the schema and to the rules for changes; a sound one comes back as it is
 */
export function mend(json: unknown, now: string): Mended {
  const mender = new Mender();
  const isNode = !!json && typeof json === 'object' && !Array.isArray(json);
  const given: Json = isNode ? json : { content: json };
  if (given.type !== 'doc') mender.note('something that is no document, taken for one');
  let doc: Node;
  try {
    const blocks = readBlocks(given.type === 'text' ? [given] : mender.contentOf(given), mender);
    doc = settle(schema.nodes.doc.create(null, blocks), now, mender);
  } catch {
    doc = schema.nodes.doc.create(null, plainly(given, mender));
  }
  return { doc, mends: mender.list() };
}

/** The document itself where it is sound, else what can be made of it. */
export const mended = (doc: Node, now: string): Mended =>
  isSound(doc, now) ? { doc, mends: [] } : mend(doc.toJSON(), now);
