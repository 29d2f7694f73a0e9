import type { ChangedThing } from '@tea-pencil/wire';

/** Under which key each thing that the server has told is kept here; whatever changes one names it by this. */
export const keys = {
  me: ['me'],
  demoPeople: ['demo-people'],
  desk: ['desk'],
  accounts: ['people'],
  waiting: ['waiting'],
  post: ['post'],
  outbox: ['outbox'],
  manuscript: (id: string) => ['manuscript', id],
  threads: (id: string) => ['threads', id],
  ledger: (id: string) => ['ledger', id],
  view: (id: string) => ['view', id],
  /** What the server says has changed of a manuscript. */
  changed: (what: ChangedThing, id: string) =>
    ({ post: ['post'], people: ['manuscript', id], threads: ['threads', id], ledger: ['ledger', id] })[what],
} as const;
