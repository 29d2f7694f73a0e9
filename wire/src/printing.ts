import type { Thread } from '@tea-pencil/core';

/** What is to be printed, and how: all that the setting of pages is told. */

export type Papers = 'a4' | 'letter';
/** What is told of changes and threads: on the words alone, or as numbered notes at the foot or beside the lines. */
export type Notes = 'none' | 'foot' | 'side';

export interface HowPrinted {
  paper: Papers;
  large: boolean;
  lineNumbers: boolean;
  notes: Notes;
  /** Whether marks have the hues of the people; by shape and initials alone they can be told all the same. */
  hues: boolean;
}

export interface PrintedPerson {
  id: string;
  name: string;
  initials: string;
  hue: number;
}

export interface PrintJob {
  title: string;
  /** What the pages are, for their heads: “marked”, “fair copy”. */
  kind: string;
  /** BCP 47. */
  language: string;
  /** The text, as JSON of the schema: with its changes, where they are to be seen. */
  doc: object;
  people: PrintedPerson[];
  threads: Thread[];
  /** Where each picture is. */
  pictures: Record<string, string>;
  how: HowPrinted;
}

/** What can be printed of a manuscript. */
export type Printed = 'clean' | 'marked' | 'ledger' | 'talk';
