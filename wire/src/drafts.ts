import type { ChangeId, ChangeKind, LinePiece, Loss } from '@tea-pencil/core';
import type { LoggedIntent } from './live.js';

/** Why a draft was kept: by hand, or by itself before something that changes much, or in a quiet moment. */
export type DraftReason = 'hand' | 'came' | 'read-through' | 'decisions' | 'file' | 'back' | 'quiet' | 'fair copy';

/** A kept state of a text. */
export interface Draft {
  id: string;
  version: number;
  /** ISO 8601. */
  at: string;
  name: string | null;
  reason: DraftReason;
  /** Of what it was kept before, in words; null where there is nothing to say. */
  before: string | null;
  keptBy: string | null;
  /** What somebody has said of it. */
  note: string;
  /** Null until they are counted. */
  facts: DraftFacts | null;
}

/** A draft that somebody has let go; for thirty days it can be brought back. */
export interface GoneDraft extends Draft {
  /** ISO 8601. */
  goneAt: string;
  goneBy: string | null;
}

/** How a draft is called, and what is said of it. */
export interface DraftChange {
  name?: string | null;
  note?: string;
}

/** What a draft holds, and what came and went since the one kept before it. */
export interface DraftFacts {
  /** Words of its fair reading. */
  words: number;
  pending: number;
  wordsCome: number;
  wordsGone: number;
  changesCome: number;
  changesGone: number;
  /** Who worked on it since. */
  authors: string[];
}

export interface Drafts {
  drafts: Draft[];
  gone: GoneDraft[];
  /** The newest version, and when the text was last worked on. */
  version: number;
  at: string;
  /** When the text began. */
  began: string;
}

/** What one person did in one way in one stretch of time. */
export interface Stretch {
  /** When it ends, in milliseconds since the first. */
  at: number;
  /** The newest version in it. */
  version: number;
  author: string | null;
  intent: LoggedIntent;
  /** Letters that were put in and struck out. */
  come: number;
  gone: number;
}
export interface TimeLine {
  /** ISO 8601. */
  from: string;
  to: string;
  /** How long a stretch is, in milliseconds. */
  width: number;
  stretches: Stretch[];
}

/** A moment of the log, and what happened up to it. */
export interface Moment {
  version: number;
  /** ISO 8601; when what happened began, and ended. */
  from: string;
  at: string;
  author: string | null;
  intent: LoggedIntent | null;
  come: number;
  gone: number;
}

/** How a difference came about: recorded, or in ink; null where that cannot be said. */
export type How = 'pencil' | 'ink' | null;

export interface DraftDifference {
  change: ChangeId;
  kind: ChangeKind;
  author: string | null;
  how: How;
}

/** Blocks that stand beside each other, as JSON of the schema. Where both sides are the same it stands once. */
export type BesideRow = { same: object[] } | { before: object[]; after: object[]; changes: ChangeId[] };

export interface SideBySide {
  before: { version: number; words: number };
  after: { version: number; words: number };
  rows: BesideRow[];
  differences: DraftDifference[];
}

/** How a draft comes back: as changes that can be decided, or as the new text. */
export type BringBackHow = 'pencil' | 'ink';

export interface BroughtBack {
  /** By which it can be taken back; null where there was nothing to do. */
  act: string | null;
  changes: number;
}

/** How an act was taken back. */
export interface ActTakenBack {
  /**
   * Undone: the text is as if it had not been. Withdrawn: some of its changes have been decided since and stay so, and the
   * others are withdrawn. Recorded: the way back is proposed as changes, for one may not change the text unrecorded.
   */
  how: 'undone' | 'withdrawn' | 'recorded';
  /** How many of its changes have been decided since. */
  decided: number;
  /** How many changes lead back. */
  changes: number;
}

/** What came back in a file. */
export interface ReturnedFile extends BroughtBack {
  /** What was done without being recorded, and what was recorded. */
  unrecorded: number;
  recorded: number;
  /** How many changes stand where others have changed something meanwhile. */
  meetings: number;
  /** How many changes that went along were decided there; here they wait as they did. */
  decided: number;
  /** In whose name the unrecorded stands. */
  sender: string;
  /** What of the file is not taken in: comments that are new in it, and what it held that a manuscript cannot. */
  comments: number;
  losses: Loss[];
}

/** An edit in ink, and what it did. */
export interface InkEdit {
  /** In words: "inserted two words". */
  says: string;
  /** In its sentence. */
  words: LinePiece[];
}
/** What somebody did in ink without a longer break. */
export interface InkPiece {
  from: number;
  to: number;
  author: string;
  /** ISO 8601. */
  at: string;
  edits: InkEdit[];
  /** How many edits there are, where not all are listed. */
  many: number;
  /** Whether it has been laid down in pencil since. */
  laidDown: boolean;
}

/** Texts that have been laid together as a manuscript of its own. */
export interface CollatedTexts {
  id: string;
  changes: number;
  /** How many changes of two revisions meet; both are kept. */
  meetings: number;
}
