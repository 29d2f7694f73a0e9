/**
 * Where the pages of a printed text begin and end: lines, notes at the foot or in the margin, heads of tables that are
 * repeated. Heights are of any one unit; what stands where within a page is no business of this.
 */

/** A line of the text, or what is never divided: a picture, a row of a table, a rule. */
export interface FlowLine {
  height: number;
  /** What is left free above it, unless it begins a page. */
  above: number;
  /** Which paragraph it is a line of; lines of one follow one another. */
  block: number;
  /** It does not end a page: what it heads comes after it. */
  keepsNext?: boolean;
  /** The notes that are called in it, in their order. */
  notes?: readonly number[];
  /** What is repeated above it where it begins a page: the head of its table. */
  head?: number;
}

export interface Room {
  /** How high a page is. */
  height: number;
  /** The heights of the lines of each note. */
  notes: readonly (readonly number[])[];
  /** Where notes stand: below the lines, and take their room away; or beside them, in a column as high as the page. */
  where: 'foot' | 'side';
  /** What is left free between the lines and the notes at the foot, and between two notes. */
  gap: number;
  between: number;
}

/** Lines of a note that stand on a page: from the one up to, but not with, the other. */
export interface NotePart {
  note: number;
  from: number;
  to: number;
}

/** A page: its lines from the one up to, but not with, the other, and what stands of notes on it. */
export interface PageOf {
  from: number;
  to: number;
  notes: NotePart[];
}

/** So many lines of a paragraph stay together where it begins and where it ends (CSS Fragmentation, `orphans`, `widows`). */
const together = 2;

/** Notes that were begun and go on, and those that are yet to begin, in their order. */
type Waiting = readonly NotePart[];

interface Filled {
  to: number;
  notes: NotePart[];
  waiting: Waiting;
}

/** Lays lines from one on a page until it is full, or up to a last one. */
function fill(lines: readonly FlowLine[], from: number, waiting: Waiting, room: Room, last: number): Filled {
  const { height, notes, where, gap, between } = room;
  const placed: NotePart[] = [];
  let used = 0;
  let noted = 0;
  const left: NotePart[] = [];
  /** What is free for notes, when the lines take so much. */
  const free = (lineHeight: number) => (where === 'foot' ? height - lineHeight : height);
  const before = (part: NotePart) => (placed.length ? (part.from ? 0 : between) : where === 'foot' ? gap : 0);
  /** Places as much of a note as there is room for; nothing after one that did not go in whole. */
  const place = (part: NotePart, lineHeight: number, most = free(lineHeight)) => {
    if (left.length) return void left.push(part);
    let to = part.from;
    let all = noted + before(part);
    while (to < part.to && all + notes[part.note]![to]! <= most) all += notes[part.note]![to++]!;
    if (to > part.from) {
      placed.push({ ...part, to });
      noted = all;
    }
    if (to < part.to) left.push({ ...part, from: to });
  };
  // What goes on from the page before comes first, and leaves room for a line of the text.
  const first = lines[from] ? lines[from].height + (lines[from].head ?? 0) : 0;
  for (const part of waiting) place(part, first);
  // A page that no waiting note fits on gets a line of one all the same, so that they come to an end.
  if (waiting.length && !placed.length) {
    const [part, ...rest] = left as [NotePart, ...NotePart[]];
    placed.push({ ...part, to: part.from + 1 });
    left.splice(0, left.length, ...(part.from + 1 < part.to ? [{ ...part, from: part.from + 1 }] : []), ...rest);
    noted = notes[part.note]![part.from]!;
  }
  let to = from;
  for (; to < last; to++) {
    const line = lines[to]!;
    const isFirst = to === from;
    const next = used + (isFirst ? (line.head ?? 0) : line.above) + line.height;
    const fits = next + (where === 'foot' ? noted : 0) <= height;
    if (!fits && !isFirst) break;
    const calls = line.notes ?? [];
    if (calls.length && !isFirst) {
      // A note begins on the page of its line: its first line must have room.
      const one = notes[calls[0]!]![0] ?? 0;
      const starts = noted + (placed.length ? between : where === 'foot' ? gap : 0) + one;
      if (left.length || starts > free(next)) break;
    }
    used = next;
    for (const note of calls) place({ note, from: 0, to: notes[note]!.length }, used);
  }
  return { to, notes: placed, waiting: left };
}

/** Where a page that is full had better end, so that no line is left alone and no heading without what it heads. */
function better(lines: readonly FlowLine[], from: number, full: number): number {
  let end = full;
  for (;;) {
    const was = end;
    const next = lines[end];
    const last = lines[end - 1]!;
    if (next && next.block === last.block) {
      let start = end;
      while (start > 0 && lines[start - 1]!.block === next.block) start--;
      let stop = end;
      while (stop < lines.length && lines[stop]!.block === next.block) stop++;
      const begun = Math.max(start, from);
      if (stop - end < together) end = stop - together;
      if (end - start < together && begun === start) end = start;
    }
    if (end > from && end < lines.length && lines[end - 1]!.keepsNext) {
      const { block } = lines[end - 1]!;
      while (end > from && lines[end - 1]!.block === block) end--;
    }
    if (end <= from) return full;
    if (end === was) return end;
  }
}

/**
 * Divides lines into pages.
 * @returns pages that hold every line once, in order, and every line of every note once, in order; a page is no fuller than
 *   it is high, save one whose only line is higher than a page
 */
export function pagesOf(lines: readonly FlowLine[], room: Room): PageOf[] {
  const pages: PageOf[] = [];
  let waiting: Waiting = [];
  let from = 0;
  while (from < lines.length || waiting.length) {
    const full = fill(lines, from, waiting, room, lines.length);
    const end = full.to < lines.length && full.to > from ? better(lines, from, full.to) : full.to;
    const page: Filled = end === full.to ? full : fill(lines, from, waiting, room, end);
    pages.push({ from, to: page.to, notes: page.notes });
    ({ to: from, waiting } = page);
  }
  return pages;
}
