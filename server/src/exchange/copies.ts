import type { Node } from 'prosemirror-model';
import { fairReading, formats, writeAnnotations, type Manuscript } from '@tea-pencil/core';
import { proveFair } from './proof.js';

/** The copies of a manuscript that can be taken away; none holds notes to oneself. */

export interface Titled {
  id: string;
  title: string;
}

export interface Copy {
  ending: string;
  type: string;
  read: (doc: Node) => Node;
  write: (manuscript: Manuscript, about: Titled) => Promise<Uint8Array>;
  /** Whether it is written into the file the manuscript came from. */
  intoOrigin?: boolean;
  /** Whether threads go with it. */
  threads: boolean;
  /** Reads it again. */
  prove?: (manuscript: Manuscript, bytes: Uint8Array) => Promise<void>;
}

const { docx, txt } = formats;
const asItIs = (doc: Node) => doc;
const clean = (manuscript: Manuscript) => docx.write(manuscript, { clean: true });

function annotations(manuscript: Manuscript, { id, title }: Titled): Promise<Uint8Array> {
  const collection = writeAnnotations(manuscript, `urn:tea-pencil:manuscript:${id}`, title);
  return Promise.resolve(new TextEncoder().encode(JSON.stringify(collection, null, 1)));
}

export const copies = {
  'marked.docx': {
    intoOrigin: true,
    ending: ' (marked).docx',
    type: docx.type,
    read: asItIs,
    write: (manuscript) => docx.write(manuscript),
    threads: true,
  },
  'fair.docx': {
    intoOrigin: true,
    ending: ' (fair copy).docx',
    type: docx.type,
    read: fairReading,
    write: clean,
    threads: false,
    prove: proveFair,
  },
  'commented.docx': {
    intoOrigin: true,
    ending: ' (fair copy with comments).docx',
    type: docx.type,
    read: fairReading,
    write: clean,
    threads: true,
    prove: proveFair,
  },
  'threads.jsonld': {
    ending: ' (threads).jsonld',
    type: 'application/ld+json',
    read: asItIs,
    write: annotations,
    threads: true,
  },
  'fair.txt': {
    ending: ' (fair copy).txt',
    type: txt.type,
    read: fairReading,
    write: (manuscript) => txt.write(manuscript),
    threads: false,
  },
} as const satisfies Record<string, Copy>;
export type CopyName = keyof typeof copies;
