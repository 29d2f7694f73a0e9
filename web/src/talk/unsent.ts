import type { Remark } from '@tea-pencil/core';

/** What is written and not sent yet; it survives the page, on this machine and for this person. */
export interface Draft {
  body: Remark;
  query?: string | null;
  wording?: string | null;
  toSelf?: boolean;
  /** Of a comment that begins a thread: the words it is about. */
  about?: { quote: string; from: number } | { whole: true };
}

/** @param where the thread, the comment that is being changed, the change, or `new` */
export const draftKey = (me: string, manuscript: string, where: string): string => `draft ${me} ${manuscript} ${where}`;

export function readDraft(key: string): Draft | null {
  try {
    const draft = JSON.parse(localStorage.getItem(key) ?? 'null') as Draft | null;
    return draft?.body?.type === 'doc' ? draft : null;
  } catch {
    return null;
  }
}

export function keepDraft(key: string, draft: Draft | null): void {
  try {
    if (draft) localStorage.setItem(key, JSON.stringify(draft));
    else localStorage.removeItem(key);
  } catch {
    // A full or closed store keeps no drafts; what is written stays in the field.
  }
}
