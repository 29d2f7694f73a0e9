import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Node } from 'prosemirror-model';
import { breathing } from './breathing.js';

/** The text as those receive it who open it: JSON, compressed. Blocks that have not changed since are not written again. */

const known = new WeakMap<Node, string>();

function written(block: Node): string {
  let json = known.get(block);
  if (json === undefined) known.set(block, (json = JSON.stringify(block.toJSON())));
  return json;
}

/** A document as JSON, block by block. */
function* jsonInParts(doc: Node): Generator<undefined, string> {
  for (const block of doc.children) {
    written(block);
    yield;
  }
  return jsonOf(doc);
}

/** A document as JSON. */
export const jsonOf = (doc: Node): string => `{"type":"doc","content":[${doc.children.map(written).join()}]}`;

const compress = promisify(gzip);

/** The same, compressed (RFC 1952) by a thread of the system’s. */
export const packed = async (doc: Node): Promise<Buffer> => compress(await breathing(jsonInParts(doc)), { level: 1 });
