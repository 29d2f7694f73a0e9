import { pagesOf, placeNotes, type NotePart, type PageOf } from '@tea-pencil/core';
import { compose } from './compose';
import type { PrintJob } from '@tea-pencil/wire';
import { papers } from './job';
import { partOf, type MeasuredLine } from './lines';
import {
  inner,
  isHeading,
  measure,
  measureNote,
  withoutTallRows,
  type Measured,
  type MeasuredNote,
  type Place,
} from './measure';

/**
 * Sets a text in pages: blocks are laid out once in a column as wide as the lines, measured, divided by the core, and put
 * into pages of a fixed size, which print as they are. Chromium has neither footnotes nor running heads nor numbers of
 * lines of its own (CSS GCPM 3; CSS Paged Media 3).
 */

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
      // It goes on where its next line is on another page.
      const next = end < places.length && places[end]!.block === block ? places[end]!.line : null;
      if (row) body.append(this.#tablePart(block as HTMLTableElement, i, end, places));
      else body.append(line === 0 && next === null ? block : this.#part(block, lines, line, next));
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
