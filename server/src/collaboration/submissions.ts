import type { Transform } from 'prosemirror-transform';
import type { ChangeId, Intent, Verdict } from '@tea-pencil/core';
import type { EntityManager } from 'typeorm';
import type { LoggedIntent } from '../database/entities.js';
import type { Role } from '../database/roles.js';
import type { Batch } from './step-log.js';

/** What is submitted to the authority, what it answers, and what it tells everyone. */

export interface Author {
  id: string;
  role: Role;
  /** Whether everyone writes in pencil in this manuscript. */
  everyoneInPencil: boolean;
  /** All ids under which they have written in it, their own included. */
  ids(): Promise<ReadonlySet<string>>;
}

export interface Submission {
  version: number;
  steps: object[];
  intent: Intent;
  client: string;
}

/** `later`: nothing is wrong with what was sent, but it cannot be kept just now. */
export type Answer =
  { taken: true; version: number; decision?: string } | { behind: true } | { refused: string } | { later: string };

/** What everyone who has a manuscript open is told of steps. */
export interface Broadcast {
  manuscript: string;
  /** The version the first step was applied to. */
  version: number;
  steps: object[];
  /** For each step, who sent it, from which client, and what it was meant to be. */
  clients: string[];
  authors: (string | null)[];
  intents: LoggedIntent[];
}

/** A decision that has been kept, or taken back. */
export interface Decided {
  manuscript: string;
  decision: string;
  by: string;
  takenBack: boolean;
  verdict: Verdict;
  changes: { id: ChangeId; author: string }[];
}

/** Steps of the server's own, and what is kept with them in the same moment. */
export interface OwnSteps {
  tr: Transform;
  batch: Batch;
  also(manager: EntityManager): Promise<void>;
  /** Of a decision. */
  id?: string;
}
