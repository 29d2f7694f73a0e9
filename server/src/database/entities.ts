import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import type { Comment, FormatName, LedgerFacts, Loss, Place, Remark, Tint } from '@tea-pencil/core';
import { draftEntities } from './draft-entities.js';
import { FairCopyRow } from './fair-copy-entity.js';
import { lastLookEntities } from './last-look-entities.js';
import { sharingEntities } from './sharing-entities.js';
import type { ChangeState, LoggedIntent, NoticeChoice, HouseStanding, NoticeKind, Role } from '@tea-pencil/wire';

/** Someone with an account, or (without a login) someone an imported file names. */
@Entity('people')
export class PersonRow {
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('text') initials: string;
  @Index({ unique: true }) @Column('text', { nullable: true, select: false }) login: string | null;
  @Column('text', { name: 'password_hash', nullable: true, select: false }) passwordHash: string | null;
  @Column('text', { nullable: true }) note: string | null;
  /** What is the same in names that look alike. */
  @Column('text', { select: false, default: '' }) look: string;
  /** Where mail goes, as its owner has confirmed; told to nobody else. */
  @Column('text', { nullable: true, select: false }) mail: string | null;
  /** Names the picture they have set, if they have set one. */
  @Column('text', { nullable: true }) portrait: string | null;
  /** Which kinds of notices come to them, and which of these by mail too; null: all. */
  @Column('jsonb', { name: 'notice_kinds', nullable: true, select: false }) noticeKinds: NoticeChoice | null;
  @Column('text', { default: 'outside' }) standing: HouseStanding;
  /** Whether they look after the accounts of the house. */
  @Column('boolean', { name: 'keeps_house', default: false, select: false }) keepsHouse: boolean;
  /** Since when they cannot come in. */
  @Column('timestamptz', { name: 'locked_at', nullable: true, select: false }) lockedAt: Date | null;
  @Column('timestamptz', { name: 'seen_at', nullable: true, select: false }) seenAt: Date | null;
}

/** An address that someone has named for mail, until a link that was sent to it is opened. */
@Entity('asked_mail')
export class AskedMailRow {
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('text') id: string;
  @Column('text') mail: string;
  /** SHA-256 of what the link holds. */
  @Column('bytea', { name: 'token_hash' }) tokenHash: Buffer;
  @Column('timestamptz', { name: 'asked_at' }) askedAt: Date;
}

@Entity('manuscripts')
export class ManuscriptRow {
  @PrimaryColumn('text') id: string;
  @Column('text') title: string;
  @Column('text', { default: '' }) note: string;
  @Column('boolean', { name: 'everyone_in_pencil', default: false }) everyoneInPencil: boolean;
  /** Whether it was begun here, and did not come as a file. */
  @Column('boolean', { name: 'begun_here', default: false }) begunHere: boolean;
  /** In which language it is, where its words say nothing else (BCP 47). */
  @Column('text', { default: 'en-GB' }) language: string;
  /** What the file it came from held that it cannot, and what has been mended in it since. */
  @Column('jsonb', { default: [] }) losses: Loss[];
  /** What of that file stands beside the text, and goes out again as it came. */
  @Column('jsonb', { default: [] }) carried: Loss[];
  @Column('jsonb', { default: [] }) mends: Loss[];
  @Column('timestamptz', { name: 'touched_at', default: () => 'now()' }) touchedAt: Date;
  @Column('text', { name: 'touched_by' }) touchedBy: string;
  /** Since when it is nowhere but on the desks of its keepers, who can bring it back. */
  @Column('timestamptz', { name: 'deleted_at', nullable: true }) deletedAt: Date | null;
  @Column('text', { name: 'deleted_by', nullable: true }) deletedBy: string | null;
}

/** What holds for each person of a manuscript: made from what was given to them, their groups and links. */
@Entity('members')
export class MemberRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('text') role: Role;
  /** Which of the author hues is theirs here; it stays when others come and go. */
  @Column('smallint') hue: number;
  @Column('boolean', { name: 'takes_away', default: true }) takesAway: boolean;
  @Column('boolean', { default: false }) invites: boolean;
  /** Until when it holds; null for always. */
  @Column('timestamptz', { nullable: true }) until: Date | null;
}

/** People a manuscript names: authors of imported changes and comments, and members who are none any more. */
@Entity('named_people')
export class NamedPersonRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('smallint') hue: number;
  /** The person with an account who this is, where a keeper has said so. */
  @Column('text', { name: 'matched_to', nullable: true }) matchedTo: string | null;
  /** Whether a keeper has been asked who this is. */
  @Column('boolean', { default: false }) asked: boolean;
}

/** One step of a manuscript's log, which is never thrown away. */
@Entity('steps')
export class StepRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('integer') version: number;
  @Column('jsonb') step: object;
  /** The replaced ranges of its map, three integers each; none where it moves nothing. */
  @Column('integer', { array: true, default: [] }) ranges: number[];
  /** Who sent it; null for what the server itself has mended. */
  @Column('text', { nullable: true }) author: string | null;
  @Column('text') intent: LoggedIntent;
  @Column('text') client: string;
  /** Whether it is the last of its batch: what is between was checked by nobody. */
  @Column('boolean', { default: true }) ends: boolean;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
}

/** The whole document at one version, so that opening replays a short stretch of the log only. */
@Entity('checkpoints')
export class CheckpointRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('integer') version: number;
  @Column('jsonb') doc: object;
}

/** Every change that was ever recorded, and what was decided about it. */
@Entity('changes')
export class ChangeRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('text', { name: 'change_id' }) changeId: string;
  @Column('text') author: string;
  @Column('text') date: string;
  @Column('text', { nullable: true }) verdict: 'accept' | 'reject' | null;
  @Column('text', { name: 'decided_by', nullable: true }) decidedBy: string | null;
  @Column('timestamptz', { name: 'decided_at', nullable: true }) decidedAt: Date | null;
  /** In which act; null with a verdict of an act that was before such acts were kept. */
  @Column('text', { name: 'decision_id', nullable: true }) decisionId: string | null;
  /** What has become of it, by the last of its events. */
  @Column('text', { default: 'pending' }) state: ChangeState;
  /** What it was when it ended. */
  @Column('jsonb', { nullable: true }) entry: LedgerFacts | null;
  /** Counts up over all manuscripts in the order in which changes were recorded. */
  @Column({ type: 'bigint', insert: false, update: false }) serial: string;
}

/** What was decided in one act, and the versions its steps have in the log. */
@Entity('decisions')
export class DecisionRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') verdict: 'accept' | 'reject';
  @Column('text', { array: true }) changes: string[];
  @Column('integer', { name: 'from_version' }) fromVersion: number;
  @Column('integer', { name: 'to_version' }) toVersion: number;
  @Column('text', { name: 'decided_by' }) decidedBy: string;
  @Column('timestamptz', { name: 'decided_at', default: () => 'now()' }) decidedAt: Date;
  /** What its asking was called by the window that asked for it. */
  @Column('text', { nullable: true }) asked: string | null;
  @Column('text', { name: 'taken_back_by', nullable: true }) takenBackBy: string | null;
  @Column('timestamptz', { name: 'taken_back_at', nullable: true }) takenBackAt: Date | null;
  @Column('text', { name: 'taken_back_asked', nullable: true }) takenBackAsked: string | null;
  /** The fair copy it was made for, if it was. */
  @Column('text', { name: 'fair_copy', nullable: true }) fairCopy: string | null;
}

@Entity('threads')
export class ThreadRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') author: string;
  /** The change it is about, if it is about one. */
  @Column('text', { name: 'change_id', nullable: true }) changeId: string | null;
  @Column('boolean', { name: 'about_whole', default: false }) aboutWhole: boolean;
  /** Where it is, or its words were, while no anchor in the text says so. */
  @Column('jsonb', { nullable: true }) place: Place | null;
  /** A note to its author, which nobody else is ever told of. */
  @Column('boolean', { name: 'to_self', default: false }) toSelf: boolean;
  @Column('text', { nullable: true }) tint: Tint | null;
  @Column('text') quote: string;
  @Column('timestamptz', { name: 'begun_at', default: () => 'now()' }) begunAt: Date;
  @Column('boolean', { default: false }) resolved: boolean;
  /** Who resolved it last, or opened it again. */
  @Column('text', { name: 'turned_by', nullable: true }) turnedBy: string | null;
  @Column('timestamptz', { name: 'turned_at', nullable: true }) turnedAt: Date | null;
}

@Entity('comments')
export class CommentRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'thread_id' }) threadId: string;
  @Column('text') author: string;
  @Column('jsonb') body: Remark;
  @Column('timestamptz', { name: 'made_at', default: () => 'now()' }) madeAt: Date;
  @Column('timestamptz', { name: 'edited_at', nullable: true }) editedAt: Date | null;
  @Column('timestamptz', { name: 'deleted_at', nullable: true }) deletedAt: Date | null;
  @Column('text', { name: 'query_to', nullable: true }) queryTo: string | null;
  @Column('text', { name: 'settled_by', nullable: true }) settledBy: string | null;
  @Column('timestamptz', { name: 'settled_at', nullable: true }) settledAt: Date | null;
  @Column('jsonb', { nullable: true }) proposal: NonNullable<Comment['proposal']> | null;
}

/** What someone else did that concerns a person. */
@Entity('notices')
export class NoticeRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'person_id' }) personId: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') kind: NoticeKind;
  @Column('text') actor: string;
  @Column('text', { name: 'thread_id', nullable: true }) threadId: string | null;
  @Column('text', { name: 'comment_id', nullable: true }) commentId: string | null;
  /** Of decisions: how many changes each accepted or rejected. Of an invitation: the role. */
  @Column('jsonb', { default: {} }) facts: NoticeFacts;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
  @Column('timestamptz', { name: 'read_at', nullable: true }) readAt: Date | null;
  /** Whether it is to go out as mail, and when it did. */
  @Column('boolean', { name: 'goes_out', default: true }) goesOut: boolean;
  @Column('timestamptz', { name: 'mailed_at', nullable: true }) mailedAt: Date | null;
  /** When a process took it on to send it; one that dies with it is followed by another. */
  @Column('timestamptz', { name: 'claimed_at', nullable: true }) claimedAt: Date | null;
}
export interface NoticeFacts {
  decisions?: Record<string, { verdict: 'accept' | 'reject'; changes: string[] }>;
  role?: Role;
  message?: string;
  sealed?: boolean;
}

/** A mail that would have been sent, where no server for mail is set. */
@Entity('outbox')
export class OutboxRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'person_id' }) personId: string;
  @Column('text') recipient: string;
  @Column('text') subject: string;
  @Column('text') plain: string;
  @Column('text') html: string;
  @Column('bytea', { select: false }) raw: Buffer;
  @Column('timestamptz', { default: () => 'now()' }) at: Date;
}

@Entity('portraits')
export class PortraitRow {
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('text') type: string;
  @Column('bytea') bytes: Buffer;
}

/** How someone looks at a manuscript, which is nobody else's business. */
@Entity('views')
export class ViewRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @PrimaryColumn('text', { name: 'person_id' }) personId: string;
  @Column('jsonb', { default: {} }) view: object;
}

/** A picture of a manuscript. */
@Entity('assets')
export class AssetRow {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') type: string;
  @Column('bytea') bytes: Buffer;
  @Column('text', { name: 'added_by' }) addedBy: string;
  @Column('timestamptz', { name: 'added_at', default: () => 'now()' }) addedAt: Date;
}

/** The file that a manuscript came from, as it came, with what was found out when it was read. */
@Entity('origins')
export class OriginRow {
  @PrimaryColumn('text', { name: 'manuscript_id' }) manuscriptId: string;
  @Column('text') format: FormatName;
  @Column('bytea') file: Buffer;
  /** Under what names it knows pictures, people and changes, and what makes writing quick; JSON, deflated. */
  @Column('bytea') known: Buffer;
}

/** Facts about the whole installation, such as that the demo data was loaded. */
@Entity('facts')
export class FactRow {
  @PrimaryColumn('text') key: string;
  @Column('text') value: string;
}

export const entities = [
  PersonRow,
  AskedMailRow,
  ManuscriptRow,
  MemberRow,
  NamedPersonRow,
  StepRow,
  CheckpointRow,
  ChangeRow,
  DecisionRow,
  ThreadRow,
  CommentRow,
  NoticeRow,
  OutboxRow,
  PortraitRow,
  ViewRow,
  AssetRow,
  OriginRow,
  FactRow,
  FairCopyRow,
  ...draftEntities,
  ...lastLookEntities,
  ...sharingEntities,
];
