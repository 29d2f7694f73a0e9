import { createHash } from 'node:crypto';
import { Node } from 'prosemirror-model';
import { schema } from '@tea-pencil/core';

/** Pictures that come back in a file are those that went, where they are the same byte for byte. */

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** The text with its pictures under other ids. */
export function withPictures(doc: Node, ids: ReadonlyMap<string, string>): Node {
  const named = (json: unknown): unknown => {
    if (Array.isArray(json)) return json.map(named);
    if (typeof json !== 'object' || json === null) return json;
    return Object.fromEntries(
      Object.entries(json).map(([key, value]) => [
        key,
        key === 'asset' && typeof value === 'string' ? (ids.get(value) ?? value) : named(value),
      ]),
    );
  };
  return ids.size ? Node.fromJSON(schema, named(doc.toJSON())) : doc;
}
