import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { DraftFacts, DraftReason, InkEdit } from '@tea-pencil/wire';

/** Drafts: names for versions of the log, and what was done with them. */

@Entity('drafts')
export class DraftRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('integer') version: number;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
  @Column('text', { nullable: true }) name: string | null;
  @Column('text') reason: DraftReason;
  @Column('text', { nullable: true }) before: string | null;
  @Column('text', { name: 'kept_by', nullable: true }) keptBy: string | null;
  @Column('jsonb', { nullable: true }) facts: DraftFacts | null;
  /** Since when it is let go, and by whom; it can be brought back for thirty days. */
  @Column('timestamptz', { name: 'gone_at', nullable: true }) goneAt: Date | null;
  @Column('text', { name: 'gone_by', nullable: true }) goneBy: string | null;
  /** What somebody has said of it. */
  @Column('text', { default: '' }) note: string;
}

/** An act of the server’s on a whole text that can be taken back: a draft brought back, a file taken in. */
@Entity('acts')
export class ActRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('integer', { name: 'from_version' }) fromVersion: number;
  @Column('integer', { name: 'to_version' }) toVersion: number;
  @Column('text') by: string;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
  @Column('text', { name: 'taken_back_by', nullable: true }) takenBackBy: string | null;
  /** Which piece of ink it has laid down in pencil, if it has. */
  @Column('integer', { name: 'ink_from', nullable: true }) inkFrom: number | null;
}

/** What was done in ink in one go, found out once. */
@Entity('ink_pieces')
export class InkPieceRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('integer', { name: 'from_version' }) fromVersion: number;
  @Column('integer', { name: 'to_version' }) toVersion: number;
  @Column('jsonb') edits: InkEdit[];
  @Column('integer') many: number;
}

export const draftEntities = [DraftRow, ActRow, InkPieceRow];
