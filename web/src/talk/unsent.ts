import type { Remark } from '@tea-pencil/core';

/** What is written and not sent yet; it survives the page, on this machine and for this person. */
export interface Unsent {
  body: Remark;
  query?: string | null;
  wording?: string | null;
  toSelf?: boolean;
  /** Of a comment that begins a thread: the words it is about. */
  about?: { quote: string; from: number } | { whole: true };
}

/** @param where the thread, the comment that is being changed, the change, or `new` and the id a new thread is to have */
export const unsentKey = (me: string, manuscript: string, where: string): string =>
  `unsent ${me} ${manuscript} ${where}`;

export function readUnsent(key: string): Unsent | null {
  try {
    const unsent = JSON.parse(localStorage.getItem(key) ?? 'null') as Unsent | null;
    return unsent?.body?.type === 'doc' ? unsent : null;
  } catch {
    return null;
  }
}

export function keepUnsent(key: string, unsent: Unsent | null): void {
  try {
    if (unsent) localStorage.setItem(key, JSON.stringify(unsent));
    else localStorage.removeItem(key);
  } catch {
    // A full or closed store keeps nothing; what is written stays in the field.
  }
}

/** Comments that were being begun, by the ids their threads are to have. */
export function unsentBeginnings(me: string, manuscript: string): [thread: string, unsent: Unsent][] {
  const prefix = unsentKey(me, manuscript, 'new ');
  return Object.keys(localStorage).flatMap((key): [string, Unsent][] => {
    const unsent = key.startsWith(prefix) ? readUnsent(key) : null;
    return unsent ? [[key.slice(prefix.length), unsent]] : [];
  });
}
