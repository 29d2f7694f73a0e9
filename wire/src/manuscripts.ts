import type { ChangeKind, FormatName, Loss } from '@tea-pencil/core';
import type { Account, Colleague, Role } from './people.js';
import type { Seal } from './sharing.js';

/** Where pending changes are along a text: it is cut into equal parts, and those with changes have a hue. */
export interface Spine {
  parts: number;
  strokes: [part: number, hue: number][];
}

/** A line of the desk. */
export interface DeskLine {
  id: string;
  title: string;
  note: string;
  role: Role;
  /** How many changes wait, and of which kinds. */
  pending: number;
  kinds: Partial<Record<ChangeKind, number>>;
  openThreads: number;
  /** How many answers each person owes. */
  owed: { person: string; name: string; answers: number }[];
  spine: Spine;
  /** ISO 8601. */
  touchedAt: string;
  touchedBy: string;
  touchedByName: string;
  sealed: boolean;
  takesAway: boolean;
  /** One’s own, told to nobody else. */
  archived: boolean;
  labels: string[];
}

/** A manuscript that a keeper has deleted, until it goes for good. */
export interface DeletedLine {
  id: string;
  title: string;
  byName: string;
  /** ISO 8601. */
  at: string;
  goesAt: string;
}

/** Who has manuscripts open just now, by manuscript. */
export type HereNow = Record<string, Pick<Account, 'id' | 'name' | 'initials' | 'portrait'>[]>;

/** Where words were found: in which manuscripts, and a piece of the text around the first place. */
export interface FoundLine {
  id: string;
  /** What stands before, the words themselves, what stands behind; null where only the title has them. */
  piece: [before: string, words: string, behind: string] | null;
}

/** How one has put a manuscript on one’s own desk. */
export interface DeskPlace {
  archived?: boolean;
  labels?: string[];
}

export interface ManuscriptInfo {
  id: string;
  title: string;
  note: string;
  role: Role;
  /** Whether one may take files away, and invite others. */
  takesAway: boolean;
  invites: boolean;
  everyoneInPencil: boolean;
  seal: Seal | null;
  /** Whether it was begun here, and did not come as a file. */
  begunHere: boolean;
  /** In which language it is, where its words say nothing else (BCP 47). */
  language: string;
  /** What the file it came from held that it cannot. */
  losses: Loss[];
  /** What of that file stands beside the text, and goes out again as it came. */
  carried: Loss[];
  /** Of what kind the file is that it came from; null for one that was begun here. */
  cameAs: FormatName | null;
  /** What the server had to mend in a text that had come to harm. */
  mends: Loss[];
  people: Colleague[];
}

export interface ManuscriptSettings {
  title?: string;
  everyoneInPencil?: boolean;
  language?: string;
}

export interface AddedPicture {
  asset: string;
  width: number;
  height: number;
}
