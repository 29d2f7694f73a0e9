import { pagesOf, placeNotes, type FlowLine, type NotePart, type PageOf } from '@tea-pencil/core';
import { compose, type Composed } from './compose';
import type { PrintJob } from '@tea-pencil/wire';
import { papers } from './job';
import { linesIn, partOf, type MeasuredLine } from './lines';

/**
 * Sets a text in pages: blocks are laid out once in a column as wide as the lines, measured, divided by the core, and put
 * into pages of a fixed size, which print as they are. Chromium has neither footnotes nor running heads nor numbers of
 * lines of its own (CSS GCPM 3; CSS Paged Media 3).
 */

/** One line of the flow, with where it is from. */
interface Place {
  block: HTMLElement;
  /** Which line of its block, of how many; a block that is not divided is one. */
  line: number;
  lines: readonly MeasuredLine[];
  /** The row it is, of a table. */
  row: HTMLTableRowElement | null;
}

interface Measured {
  flow: FlowLine[];
  places: Place[];
}

/** Paragraphs of words can be divided between lines; what holds a picture or a thing is not. */
const isDivided = (block: HTMLElement) => !block.querySelector('img') && block.matches('.paragraph');
/** The paragraph within what marks it as a whole. */
const inner = (block: HTMLElement): HTMLElement =>
  block.matches('.paragraph') ? block : (block.querySelector<HTMLElement>('.paragraph') ?? block);

const isHeading = (block: HTMLElement) => /^H[1-6]$/.test(inner(block).tagName);

function measureTable(table: HTMLTableElement, top: number, index: number, above: number): Measured {
  const head = table.tHead?.getBoundingClientRect().height ?? 0;
  const rows = [...table.rows];
  const flow: FlowLine[] = [];
  const places: Place[] = [];
  let bottom = top;
  // Rows that a cell spans stay together: a part ends where no cell goes on.
  let open = 0;
  rows.forEach((row, i) => {
    const rect = row.getBoundingClientRect();
    const spans = Math.max(1, ...[...row.cells].map((cell) => cell.rowSpan));
    const notes = [...row.querySelectorAll<HTMLElement>('[data-note]')].map((call) => Number(call.dataset.note));
    const inHead = row.parentElement === table.tHead;
    if (open > 0) {
      const last = flow.at(-1)!;
      flow[flow.length - 1] = {
        ...last,
        height: rect.bottom - bottom + last.height,
        notes: [...(last.notes ?? []), ...notes],
      };
    } else
      flow.push({
        ...{ height: rect.bottom - bottom, above: i ? 0 : above, block: index + i / 10_000, notes },
        ...(inHead ? { keepsNext: true } : { head }),
      });
    places.push({ block: table, line: open > 0 ? -1 : i, lines: [], row });
    bottom = rect.bottom;
    open = Math.max(open - 1, spans - 1);
  });
  // A row that goes with the one above it is no line of its own.
  return { flow, places: places.filter(({ line }) => line >= 0) };
}

/** Measures blocks that stand in a column, one below the other. */
function measure(blocks: readonly HTMLElement[]): Measured {
  const flow: FlowLine[] = [];
  const places: Place[] = [];
  let bottom: number | null = null;
  blocks.forEach((block, index) => {
    const rect = block.getBoundingClientRect();
    const above = bottom === null ? 0 : Math.max(0, rect.top - bottom);
    bottom = rect.bottom;
    const table = block.matches('table') ? block : block.querySelector('table');
    if (table) {
      const measured = measureTable(table as HTMLTableElement, rect.top, index, above);
      flow.push(...measured.flow);
      places.push(...measured.places);
      return;
    }
    const lines = isDivided(inner(block)) ? linesIn(inner(block)) : [];
    const many = Math.max(1, lines.length);
    for (let line = 0; line < many; line++) {
      const notes =
        lines.length > 0
          ? lines[line]!.notes
          : [...block.querySelectorAll<HTMLElement>('[data-note]')].map((call) => Number(call.dataset.note));
      flow.push({
        ...{ height: rect.height / many, above: line ? 0 : above, block: index },
        ...(notes.length && { notes }),
        ...(isHeading(block) && { keepsNext: true }),
      });
      places.push({ block, line, lines, row: null });
    }
  });
  return { flow, places };
}

/** A table with a row that no page can hold is printed cell below cell. */
function withoutTallRows(blocks: readonly HTMLElement[], height: number): HTMLElement[] {
  return blocks.flatMap((block) => {
    const table = block.matches('table') ? block : block.querySelector('table');
    if (!table) return [block];
    const head = (table as HTMLTableElement).tHead?.getBoundingClientRect().height ?? 0;
    const rows = [...(table as HTMLTableElement).rows];
    if (rows.every((row) => row.getBoundingClientRect().height + head <= height)) return [block];
    const cells = [...table.querySelectorAll<HTMLElement>('td > *, th > *')];
    block.replaceWith(...cells);
    return cells;
  });
}

/** The heights of the lines of a note, and its lines. */
interface MeasuredNote {
  element: HTMLElement;
  where: 'foot' | 'side';
  heights: number[];
  lines: MeasuredLine[];
}

function measureNote({ element, where }: Composed['notes'][number]): MeasuredNote {
  const lines = linesIn(element);
  const { height } = element.getBoundingClientRect();
  const many = Math.max(1, lines.length);
  return { element, where, heights: Array.from({ length: many }, () => height / many), lines };
}

const millimetre = 96 / 25.4;

/** What may stop the setting, and hears how far it is. */
export interface Setting {
  tell?(done: number, of: number): void;
  isStopped?(): boolean;
}

/** Lets others go on between pages: a book takes a second or two. */
const breath = () => new Promise<void>((resolve) => setTimeout(resolve));

class Pages {
  readonly #section: string[];
  #numbered = 0;

  constructor(
    readonly document: Document,
    readonly job: PrintJob,
    readonly measured: Measured,
    readonly notes: readonly MeasuredNote[],
    readonly pages: readonly PageOf[],
  ) {
    // The section each page is in when it begins, or that begins on it.
    let section = '';
    this.#section = pages.map(({ from, to }) => {
      for (let i = from; i < to; i++) {
        const block = inner(measured.places[i]!.block);
        if (isHeading(block) && !block.matches('.style-title') && measured.places[i]!.line === 0) {
          const words = [...block.childNodes].map((one) => one.textContent).join('');
          if (i === from || !section) section = words;
          else {
            const was = section;
            section = words;
            return was;
          }
        }
      }
      return section;
    });
  }

  #made(tag: string, className: string, text = ''): HTMLElement {
    const element = this.document.createElement(tag);
    element.className = className;
    if (text) element.textContent = text;
    return element;
  }

  /** A running head, or a number of a page: not part of what is read. */
  #running(tag: string, className: string, ...texts: string[]): HTMLElement {
    const element = this.#made(tag, className);
    element.setAttribute('aria-hidden', 'true');
    element.append(...texts.map((text) => this.#made('span', '', text)));
    return element;
  }

  page(k: number): HTMLElement {
    const { title, kind } = this.job;
    const { from, to, notes } = this.pages[k]!;
    const page = this.#made('section', 'printed-page');
    const body = this.#made('div', 'printed-body');
    this.#lay(body, from, to);
    page.append(this.#running('div', 'printed-head', title, this.#section[k]!), body);
    const foot = notes.filter(({ note }) => this.notes[note]!.where === 'foot');
    if (foot.length) {
      const place = this.#made('aside', 'printed-notes');
      place.append(...foot.map((part) => this.#note(part)));
      page.append(place);
    }
    const side = notes.filter(({ note }) => this.notes[note]!.where === 'side');
    if (side.length) page.append(this.#beside(side, from, to));
    page.append(this.#running('div', 'printed-foot', kind, `page ${k + 1} of ${this.pages.length}`));
    return page;
  }

  /** Lines put together again to blocks. */
  #lay(body: HTMLElement, from: number, to: number): void {
    const { places } = this.measured;
    const { lineNumbers } = this.job.how;
    let top = 0;
    for (let i = from; i < to;) {
      const { block, line, lines, row } = places[i]!;
      let end = i;
      while (end < to && places[end]!.block === block) end++;
      const wrap = row ? null : block;
      if (row) body.append(this.#tablePart(block as HTMLTableElement, i, end, places));
      else if (line === 0 && (end >= places.length || places[end]!.block !== block)) body.append(wrap!);
      else
        body.append(
          this.#part(
            block,
            lines,
            line,
            end < places.length && places[end]!.block === block ? places[end]!.line : null,
          ),
        );
      for (let at = i; at < end; at++) {
        const { height, above } = this.measured.flow[at]!;
        if (at > from) top += above;
        this.#numbered++;
        if (lineNumbers && this.#numbered % 5 === 0) {
          const number = this.#running('span', 'line-number', String(this.#numbered));
          number.style.top = `${top}px`;
          number.style.height = `${height}px`;
          body.append(number);
        }
        top += height;
      }
      i = end;
    }
  }

  #part(block: HTMLElement, lines: readonly MeasuredLine[], from: number, to: number | null): HTMLElement {
    const words = inner(block);
    const part = partOf(words, from ? lines[from]!.start : null, to === null ? null : lines[to]!.start);
    if (words === block) return part;
    // What marks the whole paragraph marks its parts.
    const around = block.cloneNode(true) as HTMLElement;
    inner(around).replaceWith(part);
    return around;
  }

  #tablePart(table: HTMLTableElement, from: number, to: number, places: readonly Place[]): HTMLElement {
    const part = table.cloneNode(false) as HTMLTableElement;
    const columns = table.querySelector('colgroup');
    if (columns) part.append(columns.cloneNode(true));
    if (table.tHead) part.append(table.tHead.cloneNode(true));
    const body = this.document.createElement('tbody');
    const all = [...table.rows];
    const first = all.indexOf(places[from]!.row!);
    const next = to < places.length && places[to]!.block === table ? all.indexOf(places[to]!.row!) : all.length;
    for (const row of all.slice(first, next)) if (row.parentElement !== table.tHead) body.append(row.cloneNode(true));
    part.append(body);
    return part;
  }

  #note({ note, from, to }: NotePart): HTMLElement {
    const { element, heights, lines } = this.notes[note]!;
    const part =
      from === 0 && to === heights.length
        ? element
        : partOf(element, from ? lines[from]!.start : null, to < heights.length ? lines[to]!.start : null);
    return part;
  }

  /** Notes beside their lines, as near to them as they can stand. */
  #beside(parts: readonly NotePart[], from: number, to: number): HTMLElement {
    const { flow } = this.measured;
    const wanted = new Map<number, number>();
    let top = 0;
    for (let i = from; i < to; i++) {
      if (i > from) top += flow[i]!.above;
      for (const note of flow[i]!.notes ?? []) wanted.set(note, top);
      top += flow[i]!.height;
    }
    const heights = parts.map(({ note, from: begin, to: end }) =>
      this.notes[note]!.heights.slice(begin, end).reduce((sum, height) => sum + height, 0),
    );
    const tops = placeNotes(
      parts.map(({ note }, i) => ({ wanted: wanted.get(note) ?? 0, height: heights[i]! })),
      between,
    );
    // None goes below the page: those at its end move up.
    let limit = this.#height;
    for (let i = tops.length - 1; i >= 0; i--) {
      tops[i] = Math.min(tops[i]!, limit - heights[i]!);
      limit = tops[i]! - between;
    }
    const place = this.#made('aside', 'printed-side');
    parts.forEach((part, i) => {
      const note = this.#note(part);
      note.style.top = `${Math.max(0, tops[i]!)}px`;
      place.append(note);
    });
    return place;
  }

  get #height(): number {
    return roomOf(this.job).height;
  }
}

const gap = 14;
const between = 4;

/** The room that lines have, in CSS pixels. */
export function roomOf({ how }: PrintJob): { width: number; height: number; side: number } {
  const { width, height } = papers[how.paper];
  const side = how.notes === 'side' ? 56 : 0;
  return {
    width: Math.floor((width - 25 - 25 - (side && side + 6 - 8)) * millimetre),
    height: Math.floor((height - 26 - 24) * millimetre),
    side: Math.floor(side * millimetre),
  };
}

/**
 * Sets a text in pages within an element, in the place of whatever stands there.
 * @returns how many there are; null where it was stopped
 */
export async function setPages(
  into: HTMLElement,
  job: PrintJob,
  { tell, isStopped }: Setting = {},
): Promise<number | null> {
  const { ownerDocument: document } = into;
  const { width, height, side } = roomOf(job);
  const paper = papers[job.how.paper];
  into.className = ['printed', job.how.large && 'large', job.how.notes === 'side' && 'with-side']
    .filter(Boolean)
    .join(' ');
  into.lang = job.language;
  for (const [name, value] of [
    ['--paper-width', `${paper.width}mm`],
    ['--paper-height', `${paper.height}mm`],
    ['--line-width', `${width}px`],
    ['--side-width', `${side}px`],
    ['--body-height', `${height}px`],
  ] as const)
    into.style.setProperty(name, value);
  const { blocks, notes } = compose(document, job);
  const galley = document.createElement('div');
  galley.className = 'printed-galley';
  const noteGalley = { foot: document.createElement('div'), side: document.createElement('div') };
  noteGalley.foot.className = 'printed-notes measuring';
  noteGalley.side.className = 'printed-side measuring';
  galley.append(...blocks);
  for (const { element, where } of notes) noteGalley[where].append(element);
  into.replaceChildren(galley, noteGalley.foot, noteGalley.side);
  // Fonts are fetched once something is written in them.
  void galley.offsetHeight;
  await Promise.all([...galley.querySelectorAll('img')].map((picture) => picture.decode().catch(() => undefined)));
  await document.fonts.ready;
  if (isStopped?.()) return null;
  const measured = measure(withoutTallRows(blocks, height));
  const measuredNotes = notes.map(measureNote);
  const room = {
    ...{ height, gap, between },
    notes: measuredNotes.map(({ where, heights }) => ({ where, lines: heights })),
  };
  const breaks = pagesOf(measured.flow, room);
  const pages = new Pages(document, job, measured, measuredNotes, breaks);
  const all = document.createDocumentFragment();
  for (let k = 0; k < breaks.length; k++) {
    all.append(pages.page(k));
    if (k % 20 !== 19) continue;
    tell?.(k + 1, breaks.length);
    await breath();
    if (isStopped?.()) return null;
  }
  into.replaceChildren(all);
  tell?.(breaks.length, breaks.length);
  return breaks.length;
}
