import type { ChangeId, Intent, Verdict } from '@tea-pencil/core';

/** What travels over a live connection. */

/** What a step in the log is meant to be. */
export type LoggedIntent = Intent | 'decision' | 'anchor' | 'mend';

/** Where someone is in a text at a version: a selection, and the first place they have in view. */
export interface Standing {
  version: number;
  anchor: number;
  head: number;
  top: number;
}

/** A batch of steps, all of one intent, made on a version. */
export interface Submission {
  version: number;
  steps: object[];
  intent: Intent;
  client: string;
}

/**
 * Who asks for something, and what they call this asking: one that is repeated under the same name, because its answer was
 * lost, is answered as the first was and done once.
 */
export interface Asking {
  client: string;
  asked?: string;
}

/** What a client may send, by the name of the message; `client` is its window's name, told to others as `clientOf` makes it. */
export interface Messages {
  join: { manuscript: string; version?: number; client?: string };
  leave: { manuscript: string };
  submit: Submission & { manuscript: string };
  decide: { manuscript: string; changes: ChangeId[]; verdict: Verdict } & Asking;
  /** A decision, or only some of what was decided in it. */
  takeBack: { manuscript: string; decision: string; changes?: string[] } & Asking;
  presence: { manuscript: string; client: string; at: Standing; asks: boolean };
}

/** Why nothing was done. `later`: nothing is wrong with what was sent, but it cannot be kept just now. */
export type Refusal = { refused: string } | { later: string };

/** What becomes of a submission, a decision, or taking one back. */
export type Outcome = { taken: true; version: number; decision?: string } | { behind: true } | Refusal;

/** The text as it stands: the JSON of the document, in UTF-8, compressed (RFC 1952, gzip). */
export interface WholeText {
  version: number;
  packed: Uint8Array;
}

/** What happened since the version that was asked for. */
export interface Missed {
  version: number;
  steps: object[];
  clients: string[];
}

export type Joined = WholeText | Missed | Refusal;

/** What everyone who has a manuscript open is told of steps. */
export interface Steps extends Missed {
  manuscript: string;
  /** For each step, who sent it and what it was meant to be. */
  authors: (string | null)[];
  intents: LoggedIntent[];
}

export interface Presence {
  manuscript: string;
  person: string;
  client: string;
  at: Standing;
  /** Whether they have just come and ask where the others are. */
  asks: boolean;
}

/** What has changed beside the text. */
export type ChangedThing = 'threads' | 'people' | 'ledger' | 'post' | 'drafts' | 'last look';

/** What the server tells, by the name of the message. */
export interface Told {
  steps: Steps;
  presence: Presence;
  gone: { manuscript: string; client: string };
  changed: { manuscript: string; what: ChangedThing };
  removed: { manuscript: string; refused: string };
  'signed-out': void;
}
