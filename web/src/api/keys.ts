import type { ChangedThing } from '@tea-pencil/wire';

/** Under which key each thing that the server has told is kept here; whatever changes one names it by this. */
export const keys = {
  me: ['me'],
  demoPeople: ['demo-people'],
  desk: ['desk'],
  door: ['door'],
  known: ['people'],
  groups: ['groups'],
  house: ['house'],
  sessions: ['sessions'],
  deleted: ['desk', 'deleted'],
  here: ['desk', 'here'],
  found: (words: string) => ['desk', 'found', words],
  waiting: ['waiting'],
  post: ['post'],
  outbox: ['outbox'],
  manuscript: (id: string) => ['manuscript', id],
  /** Changes with the manuscript itself. */
  sharing: (id: string) => ['manuscript', id, 'sharing'],
  threads: (id: string) => ['threads', id],
  ledger: (id: string) => ['ledger', id],
  view: (id: string) => ['view', id],
  drafts: (id: string) => ['drafts', id],
  timeLine: (id: string) => ['drafts', id, 'time line'],
  moment: (id: string, version: number) => ['moment', id, version],
  beside: (id: string, before: number, after: number, reading: string) => ['beside', id, before, after, reading],
  lastLook: (id: string) => ['last look', id],
  styles: ['styles'],
  style: (id: string) => ['styles', id],
  styleVersions: (id: string) => ['styles', id, 'versions'],
  past: (id: string, version: number) => ['past', id, version],
  ink: (id: string) => ['drafts', id, 'ink'],
  fairCopies: (id: string) => ['drafts', id, 'fair copies'],
  /** What the server says has changed of a manuscript. */
  changed: (what: ChangedThing, id: string) =>
    ({
      post: ['post'],
      people: ['manuscript', id],
      threads: ['threads', id],
      ledger: ['ledger', id],
      drafts: ['drafts', id],
      'last look': ['last look', id],
    })[what],
} as const;
