/** The shapes of all that travels between server and screen, each once. Types only: nothing here is left at run time. */
export type * from './drafts.js';
export type * from './exchange.js';
export type * from './fair-copy.js';
export type * from './house-style.js';
export type * from './last-look.js';
export type * from './ledger.js';
export type * from './live.js';
export type * from './manuscripts.js';
export type * from './people.js';
export type * from './post.js';
export type * from './printing.js';
export type * from './threads.js';
export type * from './views.js';
export type * from './sharing.js';
