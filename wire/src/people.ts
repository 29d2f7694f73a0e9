import type { Person } from '@tea-pencil/core';

/** What a person may do in a manuscript, each role including the ones before it. */
export type Role = 'reader' | 'remarker' | 'proposer' | 'decider' | 'keeper';

/** How somebody stands to the house: with an account, by a guest link, named by a file only, or gone from it. */
export type HouseStanding = 'account' | 'guest' | 'outside' | 'left';

export interface Account extends Person {
  standing: HouseStanding;
  note: string | null;
  /** Names the picture they have set, if they have set one. */
  portrait: string | null;
}

/** Someone of the demo, who comes in with one click. */
export interface DemoPerson extends Account {
  login: string;
}

/** What a guest’s link lets them see and do. */
export interface GuestOf {
  manuscript: string;
  /** ISO 8601; null where the link has no end. */
  until: string | null;
  /** Why it does so no more. */
  ended: string | null;
}

/** Oneself, with what nobody else is told. */
export interface Self extends Account {
  /** Where mail goes. */
  mail: string | null;
  /** An address they have named, to which mail goes once they have opened the link that was sent there. */
  askedMail: string | null;
  /** Whether they look after the accounts of the house. */
  keepsHouse: boolean;
  /** Whether they come in with a password; else by a work account only. */
  hasPassword: boolean;
  guest: GuestOf | null;
}

/** Someone a manuscript knows: a member with a role, or an author it only names. */
export interface Colleague extends Account {
  role: Role | null;
  hue: number;
  /** Who of the people with accounts this is, as a keeper has said of someone a file names. */
  matchedTo: string | null;
  /** Whether someone whom only a file names is called like one of the members. */
  looksLikeMember: boolean;
  /** Whether a keeper has been asked who this is. */
  asked: boolean;
}

/** What a keeper says of someone a file names: who it is, or that it is someone outside; or how they are called. */
export interface Outsider {
  name?: string;
  matchedTo?: string | null;
  /** Somebody has been asked who this is; whatever else is said of them means that too. */
  asked?: true;
}

/** Where somebody is signed in. */
export interface SessionOf {
  id: string;
  /** Which browser on which system, as far as it says so. */
  browser: string;
  /** ISO 8601. */
  begunAt: string | null;
  seenAt: string;
  /** Whether it is the one that asks. */
  here: boolean;
}

/** What one must know of a house before one is in it. */
export interface Door {
  /** Whether anybody has an account yet. */
  begun: boolean;
  /** Whether people of some mail domains may come in by themselves. */
  bySelf: boolean;
  /** How the work accounts are called with which one may sign in; null for none. */
  work: string | null;
}

/** What a letter or link says to whoever opens it. */
export interface InvitationTold {
  /** Of which manuscript; null where it is to the house. */
  title: string | null;
  by: string | null;
  role: Role | null;
  mail: string;
  /** Whether somebody with that address has an account already. */
  known: boolean;
}
export interface LinkTold {
  title: string | null;
  by: string;
  role: Role;
  /** Whether a passphrase is asked for; nothing else is told then until it is given. */
  passphrase: boolean;
}
