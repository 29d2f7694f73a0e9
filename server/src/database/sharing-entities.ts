import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { Protection } from '@tea-pencil/core';
import type { Role } from '@tea-pencil/wire';

/** What is given to whom in a manuscript: to a person, to a group, or to whoever comes by a link. */
@Entity('grants')
export class GrantRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text', { name: 'person_id', nullable: true }) personId: string | null;
  @Column('text', { name: 'group_id', nullable: true }) groupId: string | null;
  @Column('text', { name: 'link_id', nullable: true }) linkId: string | null;
  @Column('text') role: Role;
  @Column('boolean', { name: 'takes_away', default: true }) takesAway: boolean;
  @Column('boolean', { default: false }) invites: boolean;
}

/** People of the house under one name. */
@Entity('groups')
export class GroupRow {
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('text', { name: 'made_by' }) madeBy: string;
}

@Entity('group_people')
export class GroupPersonRow {
  @PrimaryColumn('text', { name: 'group_id' }) groupId: string;
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
}

/** A link by which people without an account come to one manuscript. */
@Entity('links')
export class LinkRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') name: string;
  /** SHA-256 of what the link holds besides its id. */
  @Column('bytea', { name: 'token_hash' }) tokenHash: Buffer;
  @Column('text', { name: 'passphrase_hash', nullable: true }) passphraseHash: string | null;
  @Column('timestamptz', { name: 'ends_at', nullable: true }) endsAt: Date | null;
  @Column('integer', { name: 'most_uses', nullable: true }) mostUses: number | null;
  @Column('integer', { default: 0 }) uses: number;
  @Column('text', { name: 'made_by' }) madeBy: string;
  @Column('timestamptz', { name: 'made_at', default: () => 'now()' }) madeAt: Date;
  @Column('timestamptz', { name: 'ended_at', nullable: true }) endedAt: Date | null;
}

/** Somebody who came by a link. */
@Entity('guests')
export class GuestRow {
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('text', { name: 'link_id' }) linkId: string;
  @Column('timestamptz', { name: 'came_at', default: () => 'now()' }) cameAt: Date;
}

/** A letter that lets its reader in: to a manuscript, or to the house alone. */
@Entity('invitations')
export class InvitationRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id', nullable: true }) manuscriptId: string | null;
  @Column('text') mail: string;
  @Column('text', { nullable: true }) role: Role | null;
  @Column('boolean', { name: 'takes_away', default: true }) takesAway: boolean;
  @Column('boolean', { default: false }) invites: boolean;
  @Column('text', { default: '' }) message: string;
  @Column('bytea', { name: 'token_hash' }) tokenHash: Buffer;
  /** Null where somebody may come in by themselves. */
  @Column('text', { name: 'made_by', nullable: true }) madeBy: string | null;
  @Column('timestamptz', { name: 'made_at', default: () => 'now()' }) madeAt: Date;
  @Column('timestamptz', { name: 'ends_at' }) endsAt: Date;
  @Column('timestamptz', { name: 'withdrawn_at', nullable: true }) withdrawnAt: Date | null;
  @Column('timestamptz', { name: 'used_at', nullable: true }) usedAt: Date | null;
  @Column('text', { name: 'used_by', nullable: true }) usedBy: string | null;
}

/** What keeps everyone in pencil and decisions closed. */
@Entity('seals')
export class SealRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  /** Which of those that it has had. */
  @Column('text') id: string;
  /** Null where it came with a file. */
  @Column('text', { name: 'sealed_by', nullable: true }) sealedBy: string | null;
  @Column('timestamptz', { name: 'sealed_at', default: () => 'now()' }) sealedAt: Date;
  @Column('boolean', { name: 'may_withdraw' }) mayWithdraw: boolean;
  /** The passphrase as argon2id; null where only the file's own hash is known. */
  @Column('text', { nullable: true }) hash: string | null;
  /** The hash that copies as DOCX carry. */
  @Column('jsonb', { nullable: true }) standard: Protection | null;
}

/** Letters by which a password is set anew. */
@Entity('resets')
export class ResetRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'person_id' }) personId: string;
  @Column('bytea', { name: 'token_hash' }) tokenHash: Buffer;
  @Column('timestamptz', { name: 'ends_at' }) endsAt: Date;
}

/** Who comes in with which work account (OpenID Connect Core 1.0, 2: issuer and subject). */
@Entity('work_accounts')
export class WorkAccountRow {
  @PrimaryColumn('text') issuer: string;
  @PrimaryColumn('text') subject: string;
  @Column('text', { name: 'person_id' }) personId: string;
}

/** How someone has put a manuscript on their desk. */
@Entity('desk_places')
export class DeskPlaceRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('boolean', { default: false }) archived: boolean;
  @Column('text', { array: true, default: [] }) labels: string[];
}

export const sharingEntities = [
  GrantRow,
  GroupRow,
  GroupPersonRow,
  LinkRow,
  GuestRow,
  InvitationRow,
  SealRow,
  ResetRow,
  WorkAccountRow,
  DeskPlaceRow,
];
