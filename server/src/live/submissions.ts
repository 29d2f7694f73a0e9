import type { Transform } from 'prosemirror-transform';
import type { EntityManager } from 'typeorm';
import type { Member } from '../policy/may.js';
import type { Batch } from './step-log.js';

/** Who submits something to the authority, as what, and what the manuscript is set to. */
export type Author = Member;

/** Steps of the server's own, and what is kept with them in the same moment. */
export interface OwnSteps {
  tr: Transform;
  batch: Batch;
  also(manager: EntityManager): Promise<void>;
  /** Of a decision. */
  id?: string;
}
