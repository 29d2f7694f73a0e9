/** What others do that concerns someone. */
export const noticeKinds = ['mention', 'query', 'reply', 'decision', 'invitation'] as const;
export type NoticeKind = (typeof noticeKinds)[number];

/** For each kind of notice: whether it comes at all, and whether by mail too. */
export type NoticeChoice = Record<NoticeKind, 'nothing' | 'post' | 'mail'>;
