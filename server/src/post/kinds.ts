import type { NoticeKind } from '@tea-pencil/wire';

/** What others do that concerns someone, in the order in which one chooses. */
export const noticeKinds = [
  'mention',
  'query',
  'reply',
  'decision',
  'invitation',
  'seal',
] as const satisfies readonly NoticeKind[];
