import type { ChangeKind, FormatName, Loss } from '@tea-pencil/core';
import type { Colleague, Role } from './people.js';

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
}

export interface ManuscriptInfo {
  id: string;
  title: string;
  note: string;
  role: Role;
  everyoneInPencil: boolean;
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
