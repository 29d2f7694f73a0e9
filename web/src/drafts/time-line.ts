import type { Drafts, TimeLine as Line } from '@tea-pencil/wire';

/** Where things stand on a time line. */

/** What one person wrote in one stretch of time, in the thousand units of the line’s width. */
export interface Bar {
  x: number;
  author: string | null;
  come: number;
  gone: number;
  ink: boolean;
}

/** How high the drawing is, and where its line runs. */
export const [height, base] = [132, 92];

/** The bars of every stretch, those of several people beside each other. */
export function barsOf({ stretches, width }: Line, whole: number): Bar[] {
  const written = stretches.filter(
    ({ intent, come, gone }) => (intent === 'pencil' || intent === 'ink') && come + gone,
  );
  const most = Math.max(1, ...written.map(({ come, gone }) => Math.max(come, gone)));
  const beside = new Map<number, number>();
  // By the root: one pasted chapter would make all else invisible.
  const scaled = (letters: number, room: number) => (letters ? Math.max(3, Math.sqrt(letters / most) * room) : 0);
  return written.map(({ at, author, intent, come, gone }) => {
    const n = beside.get(at) ?? 0;
    beside.set(at, n + 1);
    return {
      x: ((at - width / 2) / whole) * 1000 + n * 5.5,
      author,
      come: scaled(come, 56),
      gone: scaled(gone, 26),
      ink: intent === 'ink',
    };
  });
}

/** Days or hours along the line, a handful of them. */
export function ticksOf(from: number, whole: number): { x: number; label: string }[] {
  const format: Intl.DateTimeFormatOptions =
    whole > 3 * 86_400_000
      ? { day: 'numeric', month: 'short' }
      : { weekday: 'short', hour: '2-digit', minute: '2-digit' };
  return [0.01, 0.25, 0.5, 0.75, 0.99].map((part) => ({
    x: part * 1000,
    label: new Date(from + part * whole).toLocaleString(undefined, format),
  }));
}

/** A place where the slider stops, and which version that is. */
export interface Stop {
  version: number;
  /** From 0 to 10,000. */
  at: number;
}

/** The ends of all stretches and all drafts: what is later in the log stands further on, however the clocks went. */
export function stopsOf({ drafts, version: newest }: Drafts, { from, stretches }: Line, whole: number): Stop[] {
  const all = new Map<number, number>([[0, 0]]);
  const put = (version: number, at: number) => all.set(version, Math.min(whole, Math.max(0, at)));
  for (const { at, version } of stretches) put(version, at);
  for (const { version, at } of drafts) put(version, Date.parse(at) - Date.parse(from));
  put(newest, whole);
  const sorted = [...all].map(([version, at]) => ({ version, at })).sort((a, b) => a.version - b.version);
  for (let i = 1; i < sorted.length; i++) sorted[i]!.at = Math.max(sorted[i - 1]!.at + whole / 2000, sorted[i]!.at);
  const end = sorted.at(-1)!.at || 1;
  return sorted.map(({ version, at }) => ({ version, at: Math.round((at / end) * 10_000) }));
}
