import { Node } from 'prosemirror-model';
import { NotProved, schema } from '@tea-pencil/core';
import type { WholeManuscript } from '../manuscripts/manuscripts.service.js';
import { copies, type Copy, type CopyName, type Titled } from './copies.js';
import { originOf } from '../database/kept-origin.js';

/** Writes a copy of a manuscript in a thread of its own: a book takes too long for others to wait for. */

export interface CopyToWrite {
  kind: CopyName;
  about: Titled;
  whole: WholeManuscript;
}

/** What came of it: the file, or why it was not given out. */
export type WrittenCopy = { bytes: Uint8Array } | { reason: string };

export const writeCopy = ({ kind, about, whole }: CopyToWrite): Promise<WrittenCopy> =>
  copyOf(kind, about, Node.fromJSON(schema, JSON.parse(whole.json)), whole);

/** A copy of a text, written and proved. */
export async function copyOf(
  kind: CopyName,
  about: Titled,
  doc: Node,
  { people, threads, assets, origin }: Omit<WholeManuscript, 'json' | 'version'>,
): Promise<WrittenCopy> {
  const copy: Copy = copies[kind];
  const manuscript = {
    doc: copy.read(doc),
    people,
    threads: copy.threads ? threads : [],
    assets,
    ...(origin && { origin: originOf(origin) }),
  };
  const bytes = await copy.write(manuscript, about);
  try {
    await copy.prove?.(manuscript, bytes, about);
  } catch (problem) {
    if (problem instanceof NotProved) return { reason: problem.message };
    throw problem;
  }
  return { bytes };
}
