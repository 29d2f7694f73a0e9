import { Node } from 'prosemirror-model';
import { schema } from '@tea-pencil/core';
import type { WholeManuscript } from '../manuscripts/manuscripts.service.js';
import { copies, type Copy, type CopyName, type Titled } from './copies.js';

/** Writes a copy of a manuscript in a thread of its own: a book takes too long for others to wait for. */

export interface CopyToWrite {
  kind: CopyName;
  about: Titled;
  whole: WholeManuscript;
}

export async function writeCopy({ kind, about, whole }: CopyToWrite): Promise<Uint8Array> {
  const copy: Copy = copies[kind];
  const doc = copy.read(Node.fromJSON(schema, JSON.parse(whole.json)));
  const { people, threads } = whole;
  return copy.write({ doc, people, threads: copy.threads ? threads : [], assets: [] }, about);
}
