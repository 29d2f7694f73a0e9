import type { Node } from 'prosemirror-model';
import { fairReading, writeAnnotations, writeDocx, writeText, type Manuscript } from '@tea-pencil/core';

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
  /** Whether threads go with it. */
  threads: boolean;
}

const docxType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';

function annotations(manuscript: Manuscript, { id, title }: Titled): Promise<Uint8Array> {
  const collection = writeAnnotations(manuscript, `urn:tea-pencil:manuscript:${id}`, title);
  return Promise.resolve(new TextEncoder().encode(JSON.stringify(collection, null, 1)));
}

export const copies = {
  'marked.docx': { ending: ' (marked).docx', type: docxType, read: (doc) => doc, write: writeDocx, threads: true },
  'fair.docx': { ending: ' (fair copy).docx', type: docxType, read: fairReading, write: writeDocx, threads: false },
  'threads.jsonld': {
    ending: ' (threads).jsonld',
    type: 'application/ld+json',
    read: (doc) => doc,
    write: annotations,
    threads: true,
  },
  'fair.txt': {
    ending: ' (fair copy).txt',
    type: 'text/plain; charset=utf-8',
    read: fairReading,
    write: writeText,
    threads: false,
  },
} as const satisfies Record<string, Copy>;
export type CopyName = keyof typeof copies;
