import type { Account, Role } from './people.js';

/** Who may do what in a manuscript, as the page People shows it. */

export interface Rights {
  role: Role;
  /** May take files away. */
  takesAway: boolean;
  /** May invite others. */
  invites: boolean;
}

/** What somebody had who was taken off, so that it can be given back; null where they had nothing of their own. */
export interface TakenOff {
  had: Rights | null;
}

/** What holds for a member, and where it comes from. */
export interface MemberOf extends Rights {
  person: string;
  /** What they were given themselves; null where it comes from groups or a link alone. */
  own: Rights | null;
}

/** People of the house under one name. */
export interface Group {
  id: string;
  name: string;
  people: Account[];
}
export interface GroupOf extends Rights {
  group: string;
  name: string;
  people: string[];
}

export interface Invitation {
  id: string;
  mail: string;
  rights: Rights | null;
  by: string | null;
  /** ISO 8601. */
  madeAt: string;
  endsAt: string;
}

export interface GuestLink {
  id: string;
  name: string;
  role: Role;
  passphrase: boolean;
  /** ISO 8601; null for none. */
  endsAt: string | null;
  mostUses: number | null;
  by: string;
  madeAt: string;
  /** Those who came by it, the newest last. */
  guests: { person: string; name: string; cameAt: string }[];
  /** Why nobody comes by it any more; null where they do. */
  ended: 'ended' | 'over' | 'used up' | null;
}

export interface Sharing {
  members: MemberOf[];
  groups: GroupOf[];
  /** For those who may see them. */
  invitations: Invitation[];
  links: GuestLink[];
}

/** What keeps everyone in pencil and decisions closed until its passphrase is given. */
export interface Seal {
  /** Null where it came with a file. */
  by: string | null;
  byName: string | null;
  at: string;
  /** Whether one may withdraw what one has proposed oneself. */
  mayWithdraw: boolean;
}

/** What keepers of the house look after. */
export interface HousePerson extends Account {
  mail: string | null;
  keepsHouse: boolean;
  locked: boolean;
  /** ISO 8601; null where they never were. */
  seenAt: string | null;
  manuscripts: number;
}
export interface House {
  people: HousePerson[];
  invitations: (Invitation & { title: string | null; byName: string | null })[];
  links: {
    id: string;
    name: string;
    title: string;
    byName: string;
    role: Role;
    endsAt: string | null;
    guests: number;
  }[];
  /** Mail domains whose people may come in by themselves. */
  domains: string[];
  /** Manuscripts that nobody keeps, with those who could. */
  unkept: { id: string; title: string; members: Account[] }[];
}
