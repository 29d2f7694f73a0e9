import type { Person } from '@tea-pencil/core';

/** What a person may do in a manuscript, each role including the ones before it. */
export type Role = 'reader' | 'remarker' | 'proposer' | 'decider' | 'keeper';

export interface Account extends Person {
  login: string | null;
  note: string | null;
  /** Names the picture they have set, if they have set one. */
  portrait: string | null;
}

/** Oneself, with what nobody else is told. */
export interface Self extends Account {
  /** Where mail goes. */
  mail: string | null;
  /** An address they have named, to which mail goes once they have opened the link that was sent there. */
  askedMail: string | null;
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
