import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Node } from 'prosemirror-model';

/** The text as those receive it who open it: JSON, compressed. Blocks that have not changed since are not written again. */

const known = new WeakMap<Node, string>();

function written(block: Node): string {
  let json = known.get(block);
  if (json === undefined) known.set(block, (json = JSON.stringify(block.toJSON())));
  return json;
}

/** A document as JSON. */
export const jsonOf = (doc: Node): string => `{"type":"doc","content":[${doc.children.map(written).join()}]}`;

const compress = promisify(gzip);

/** The same, compressed (RFC 1952) by a thread of the system’s. */
export const packed = (doc: Node): Promise<Buffer> => compress(jsonOf(doc), { level: 1 });
