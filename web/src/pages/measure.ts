import type { FlowLine } from '@tea-pencil/core';
import type { Composed } from './compose';
import { linesIn, type MeasuredLine } from './lines';

/** How high what stands in a column is, line by line. */

/** One line of the flow, with where it is from. */
export interface Place {
  block: HTMLElement;
  /** Which line of its block, of how many; a block that is not divided is one. */
  line: number;
  lines: readonly MeasuredLine[];
  /** The row it is, of a table. */
  row: HTMLTableRowElement | null;
}

export interface Measured {
  flow: FlowLine[];
  places: Place[];
}

/** Paragraphs of words can be divided between lines; what holds a picture or a thing is not. */
const isDivided = (block: HTMLElement) => !block.querySelector('img') && block.matches('.paragraph');
/** The paragraph within what marks it as a whole. */
export const inner = (block: HTMLElement): HTMLElement =>
  block.matches('.paragraph') ? block : (block.querySelector<HTMLElement>('.paragraph') ?? block);

export const isHeading = (block: HTMLElement) => /^H[1-6]$/.test(inner(block).tagName);

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
export function measure(blocks: readonly HTMLElement[]): Measured {
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

/** Fixes the columns of a table as they were measured, so that each part of it on a page has the same. */
function fixColumns(table: HTMLTableElement): void {
  const edges = new Set<number>();
  let many = 0;
  for (const row of table.rows) {
    many = Math.max(
      many,
      [...row.cells].reduce((sum, { colSpan }) => sum + colSpan, 0),
    );
    for (const cell of row.cells) edges.add(Math.round(cell.getBoundingClientRect().left));
  }
  // A column in which no cell begins cannot be measured.
  if (edges.size !== many) return;
  const { left, right, width } = table.getBoundingClientRect();
  const lefts = [...edges].sort((a, b) => a - b);
  const group = table.ownerDocument.createElement('colgroup');
  lefts.forEach((edge, i) => {
    const column = table.ownerDocument.createElement('col');
    column.style.width = `${(lefts[i + 1] ?? right) - (i ? edge : left)}px`;
    group.append(column);
  });
  table.prepend(group);
  table.style.tableLayout = 'fixed';
  table.style.width = `${width}px`;
}

/** A table with a row that no page can hold is printed cell below cell. */
export function withoutTallRows(blocks: readonly HTMLElement[], height: number): HTMLElement[] {
  return blocks.flatMap((block) => {
    const table = block.matches('table') ? block : block.querySelector('table');
    if (!table) return [block];
    const head = (table as HTMLTableElement).tHead?.getBoundingClientRect().height ?? 0;
    const rows = [...(table as HTMLTableElement).rows];
    if (rows.every((row) => row.getBoundingClientRect().height + head <= height)) {
      fixColumns(table as HTMLTableElement);
      return [block];
    }
    const cells = [...table.querySelectorAll<HTMLElement>('td > *, th > *')];
    block.replaceWith(...cells);
    return cells;
  });
}

/** The heights of the lines of a note, and its lines. */
export interface MeasuredNote {
  element: HTMLElement;
  where: 'foot' | 'side';
  heights: number[];
  lines: MeasuredLine[];
}

export function measureNote({ element, where }: Composed['notes'][number]): MeasuredNote {
  const lines = linesIn(element);
  const { height } = element.getBoundingClientRect();
  const many = Math.max(1, lines.length);
  return { element, where, heights: Array.from({ length: many }, () => height / many), lines };
}
