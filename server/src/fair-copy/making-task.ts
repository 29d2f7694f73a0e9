import { createHash } from 'node:crypto';
import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  countWords,
  decide,
  fairReading,
  fatesOf,
  listChanges,
  openQueries,
  plainText,
  schema,
  squareTables,
  type ChangeId,
  type Chosen,
  type Fate,
  type FormatName,
} from '@tea-pencil/core';
import { copies, fileName, type Titled } from '../exchange/copies.js';
import { copyOf } from '../exchange/write-task.js';
import type { WholeManuscript } from '../manuscripts/manuscripts.service.js';
import type { FairCopyFacts, MadeFile } from '@tea-pencil/wire';

/** Makes the files of a fair copy, in a thread of its own. */

export interface FairCopyToMake {
  whole: WholeManuscript;
  about: Titled;
  chosen: readonly Chosen[];
  format: FormatName;
}

/** What came of it: the files with what is known of them; or why there are none. */
export type MadeFairCopy =
  | {
      version: number;
      fates: Record<Fate, ChangeId[]>;
      facts: Omit<FairCopyFacts, 'deciders' | 'nameless' | 'format'>;
      clean: Uint8Array;
      marked: Uint8Array;
    }
  | { unseen: true }
  | { reason: string };

export async function makeFairCopy({ whole, about, chosen, format }: FairCopyToMake): Promise<MadeFairCopy> {
  const doc = Node.fromJSON(schema, JSON.parse(whole.json));
  const fates = fatesOf(listChanges(doc), chosen);
  if (!fates) return { unseen: true };
  const decided = decideAll(doc, fates);
  const text = plainText(fairReading(decided));
  if (!text.trim()) return { reason: 'it would hold no word' };
  const kinds = { clean: `fair.${format}`, marked: `marked.${format}` } as const;
  const clean = await copyOf(kinds.clean, about, decided, whole);
  if ('reason' in clean) return clean;
  const marked = await copyOf(kinds.marked, about, decided, whole);
  if ('reason' in marked) return marked;
  const threads = whole.threads.filter(({ toSelf }) => !toSelf);
  const made = (which: keyof typeof kinds, bytes: Uint8Array): MadeFile => ({
    name: fileName(about.title + copies[kinds[which]].ending),
    bytes: bytes.length,
    sha256: createHash('sha256').update(bytes).digest('hex'),
  });
  return {
    version: whole.version,
    fates,
    clean: clean.bytes,
    marked: marked.bytes,
    facts: {
      fates: { accept: fates.accept.length, reject: fates.reject.length, keep: fates.keep.length },
      words: countWords(text),
      threads: threads.length,
      open: threads.filter(({ resolved }) => !resolved).length,
      queries: threads.flatMap(openQueries).length,
      inside: about.inside,
      clean: made('clean', clean.bytes),
      marked: made('marked', marked.bytes),
    },
  };
}

/** The text as it is once that has been decided: just what the authority makes of it. */
function decideAll(doc: Node, { accept, reject }: Record<Fate, ChangeId[]>): Node {
  const tr = new Transform(doc);
  for (const [which, verdict] of [
    [accept, 'accept'],
    [reject, 'reject'],
  ] as const) {
    if (!which.length) continue;
    decide(tr, which, verdict);
    squareTables(tr);
  }
  return tr.doc;
}
