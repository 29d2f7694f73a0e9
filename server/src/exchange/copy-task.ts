import { Node } from 'prosemirror-model';
import { schema, type Asset, type Person, type Thread } from '@tea-pencil/core';
import { keptOrigin, originOf, type KeptOrigin } from '../database/kept-origin.js';
import { keptText, type KeptText } from '../database/kept-text.js';
import type { WholeManuscript } from '../manuscripts/manuscripts.service.js';
import { withIds } from './ids.js';

/** Makes a copy of a manuscript that can be kept beside it: everything in it has an id of its own, its people are the same. */

export interface CopiedText {
  text: KeptText;
  people: Person[];
  threads: Thread[];
  assets: Asset[];
  origin: KeptOrigin | null;
}

export function copyText({ json, people, threads, assets, origin }: WholeManuscript): CopiedText {
  const doc = Node.fromJSON(schema, JSON.parse(json));
  const whole = { doc, people, threads, assets, ...(origin && { origin: originOf(origin) }) };
  const { origin: copied, ...copy } = withIds(whole, ({ id }) => id);
  return {
    text: keptText(copy.doc),
    people: copy.people,
    threads: copy.threads,
    assets: copy.assets,
    origin: copied ? keptOrigin(copied) : null,
  };
}
