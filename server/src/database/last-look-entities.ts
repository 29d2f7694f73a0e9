import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { FindingKind, Rule } from '@tea-pencil/core';
import type { WordScope } from '@tea-pencil/wire';

/** What people have made of findings; words that are right; house styles. */

@Entity('left_findings')
export class LeftFindingRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') key: string;
  /** Whether all such are left, and not one. */
  @Column('boolean', { name: 'all_such' }) all: boolean;
  @Column('text') kind: FindingKind;
  @Column('text') words: string;
  @Column('text') by: string;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
}

@Entity('kept_words')
export class KeptWordRow {
  @PrimaryColumn('text') id: string;
  @Column('text') scope: WordScope;
  @Column('text', { name: 'manuscript_id', nullable: true }) manuscriptId: string | null;
  @Column('text') language: string;
  @Column('text') word: string;
  @Column('text') by: string;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
}

/** When a manuscript was looked over last. */
@Entity('looks')
export class LookRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('integer') version: number;
  @Column('text') by: string;
  @Column('timestamptz') at: Date;
  @Column('jsonb') prints: string[];
}

@Entity('house_styles')
export class HouseStyleRow {
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('text') language: string;
  @Column('text', { name: 'made_by' }) madeBy: string;
  /** The number of its newest version. */
  @Column('integer') version: number;
  @Column('timestamptz', { name: 'gone_at', nullable: true }) goneAt: Date | null;
}

@Entity('house_style_versions')
export class StyleVersionRow {
  @PrimaryColumn('text', { name: 'style_id' }) styleId: string;
  @PrimaryColumn('integer') version: number;
  @Column('text') name: string;
  @Column('text') language: string;
  @Column('jsonb') rules: Rule[];
  @Column('text') by: string;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
}

/** Which style a manuscript follows. */
@Entity('styled')
export class StyledRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text', { name: 'style_id' }) styleId: string;
}

export const lastLookEntities = [LeftFindingRow, KeptWordRow, LookRow, HouseStyleRow, StyleVersionRow, StyledRow];
