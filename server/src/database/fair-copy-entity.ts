import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { FairCopyFacts } from '@tea-pencil/wire';

/** A fair copy: a version of the text, the files that were made of it, and how it came to be. */
@Entity('fair_copies')
export class FairCopyRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('integer') version: number;
  @Column('text', { name: 'made_by' }) madeBy: string;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
  @Column('jsonb') facts: FairCopyFacts;
  /** As they were given out: the same bytes as long as there is the manuscript. */
  @Column('bytea', { select: false }) clean: Buffer;
  @Column('bytea', { select: false }) marked: Buffer;
  @Column('text', { name: 'taken_back_by', nullable: true }) takenBackBy: string | null;
  @Column('timestamptz', { name: 'taken_back_at', nullable: true }) takenBackAt: Date | null;
}
