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

/** A note: where it stands, and how high each of its lines is. */
export interface FlowNote {
  /** Below the lines, whose room it takes away; or beside them, in a column as high as the page. */
  where: 'foot' | 'side';
  lines: readonly number[];
}

export interface Room {
  /** How high a page is. */
  height: number;
  notes: readonly FlowNote[];
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

/** The notes of one page in one place: at its foot, or beside its lines. */
class Column {
  readonly placed: NotePart[] = [];
  readonly left: NotePart[] = [];
  used = 0;

  constructor(
    readonly where: FlowNote['where'],
    readonly room: Room,
  ) {}

  /** How high a note may reach when the lines take so much. */
  #most = (lines: number) => (this.where === 'foot' ? this.room.height - lines : this.room.height);
  /** What is left free above the next one. */
  #above = (from: number) => {
    if (this.placed.length) return from ? 0 : this.room.between;
    return this.where === 'foot' ? this.room.gap : 0;
  };

  /** Whether a note could begin here. */
  begins(note: number, lines: number): boolean {
    const first = this.room.notes[note]!.lines[0] ?? 0;
    return !this.left.length && this.used + this.#above(0) + first <= this.#most(lines);
  }

  /** Places as much of a note as there is room for; nothing after one that did not go in whole. */
  place(part: NotePart, lines: number): void {
    if (this.left.length) return void this.left.push(part);
    const heights = this.room.notes[part.note]!.lines;
    let { from: to } = part;
    let all = this.used + this.#above(part.from);
    while (to < part.to && all + heights[to]! <= this.#most(lines)) all += heights[to++]!;
    this.#take(part, to, all);
  }

  /** Places one line of what waits, though there is no room: so it comes to an end. */
  force(): void {
    const [part, ...rest] = this.left.splice(0);
    if (!part) return;
    this.#take(part, part.from + 1, this.room.notes[part.note]!.lines[part.from]!);
    this.left.push(...rest);
  }

  #take(part: NotePart, to: number, used: number): void {
    if (to > part.from) {
      this.placed.push({ ...part, to });
      this.used = used;
    }
    if (to < part.to) this.left.push({ ...part, from: to });
  }
}

/** Lays lines from one on a page until it is full, or up to a last one. */
function fill(lines: readonly FlowLine[], from: number, waiting: Waiting, room: Room, last: number): Filled {
  const columns = { foot: new Column('foot', room), side: new Column('side', room) };
  const columnOf = (note: number) => columns[room.notes[note]!.where];
  // What goes on from the page before comes first, and leaves room for a line of the text.
  const first = lines[from] ? lines[from].height + (lines[from].head ?? 0) : 0;
  for (const part of waiting) columnOf(part.note).place(part, first);
  for (const column of Object.values(columns)) if (column.left.length && !column.placed.length) column.force();
  let used = 0;
  let to = from;
  for (; to < last; to++) {
    const line = lines[to]!;
    const isFirst = to === from;
    const next = used + (isFirst ? (line.head ?? 0) : line.above) + line.height;
    const calls = line.notes ?? [];
    if (!isFirst) {
      if (next + columns.foot.used > room.height) break;
      // A note begins on the page of its line: its first line must have room.
      const starts = (['foot', 'side'] as const).flatMap(
        (where) => calls.find((note) => room.notes[note]!.where === where) ?? [],
      );
      if (!starts.every((note) => columnOf(note).begins(note, next))) break;
    }
    used = next;
    for (const note of calls) columnOf(note).place({ note, from: 0, to: room.notes[note]!.lines.length }, used);
  }
  return {
    to,
    notes: [...columns.foot.placed, ...columns.side.placed],
    waiting: [...columns.foot.left, ...columns.side.left],
  };
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
