import type { Remark } from '@tea-pencil/core';
import type { Account, Role } from './people.js';

/** What others do that concerns someone. */
export type NoticeKind = 'mention' | 'query' | 'reply' | 'decision' | 'invitation' | 'seal';

/** Whether a kind of notice comes at all, and whether by mail too. */
export type NoticeWay = 'nothing' | 'post' | 'mail';
export type NoticeChoice = Record<NoticeKind, NoticeWay>;

/** A notice as it is told, with what it is about. */
export interface Notice {
  id: string;
  kind: NoticeKind;
  /** What happened, in one sentence, and where in the pages it leads. */
  says: string;
  path: string;
  /** ISO 8601. */
  at: string;
  read: boolean;
  manuscript: { id: string; title: string };
  actor: Pick<Account, 'id' | 'name' | 'initials' | 'portrait'>;
  thread?: { id: string; quote: string; resolved: boolean };
  comment?: { id: string; body: Remark };
  /** Of decisions, by how many changes were accepted and rejected, and the words of some. */
  decided?: { accepted: number; rejected: number; words: string[] };
  role?: Role;
  /** Of an invitation: what was written with it. */
  message?: string;
  /** Of a seal: whether it was put on or lifted. */
  sealed?: boolean;
}

export interface Post {
  unread: number;
  notices: Notice[];
  choice: NoticeChoice;
  /** Everyone who is mentioned in what is said. */
  names: Record<string, string>;
}

export interface Mail {
  id: string;
  recipient: string;
  subject: string;
  plain: string;
  /** ISO 8601. */
  at: string;
}

export interface Outbox {
  /** Whether mail goes here instead of out. */
  standsIn: boolean;
  mails: Mail[];
}
