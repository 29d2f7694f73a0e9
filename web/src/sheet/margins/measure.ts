import type { EditorView } from 'prosemirror-view';
import type { Change, Range } from '@tea-pencil/core';
import { boxAt, footnoteNumber } from '../../opened/scrolling';

/** Where things stand on the screen, in pixels from the top of the sheet. */

export interface Tick {
  key: string;
  author: string;
  /** The kind of the first change on it. */
  kind: string;
  changes: string[];
  y: number;
  height: number;
  /** Which of several ticks of one line this is, counted outwards. */
  column: number;
}

const inline = 'ins.insertion, del.deletion, .formatting, .break-sign';
const blocks = '.block-insertion, .block-deletion, .restyled';

/** The blocks that are drawn between two heights of the window; the others are not looked at. */
function blocksBetween(view: EditorView, top: number, bottom: number): HTMLElement[] {
  const all = view.dom.children;
  // Blocks stand one below the other, so the first that reaches into sight is found by halving.
  let first = 0;
  for (let end = all.length; first < end;) {
    const middle = (first + end) >> 1;
    if (boxOf(all[middle]!).bottom < top) first = middle + 1;
    else end = middle;
  }
  let last = first;
  while (last < all.length && boxOf(all[last]!).top <= bottom) last++;
  return Array.from(all).slice(first, last) as HTMLElement[];
}

/** The marked elements of some blocks. */
const markedIn = (drawn: readonly HTMLElement[]): HTMLElement[] =>
  drawn.flatMap((block) => [
    ...(block.matches(blocks) ? [block] : []),
    ...block.querySelectorAll<HTMLElement>(`${inline}, ${blocks}`),
  ]);

/** The range of the text that is drawn between two heights, in pixels from the top of the sheet. */
export function rangeBetween(view: EditorView, origin: number, from: number, to: number): Range {
  const drawn = blocksBetween(view, origin + from, origin + to);
  const last = drawn[drawn.length - 1];
  if (!last) return { from: 0, to: 0 };
  return { from: view.posAtDOM(drawn[0]!, 0) - 1, to: view.posAtDOM(last, last.childNodes.length) + 1 };
}

/** The box of a block; one that only carries a mark has none, but what it is around has. */
function boxOf(block: Element): DOMRect {
  const box = block.getBoundingClientRect();
  return box.height || !block.firstElementChild ? box : boxOf(block.firstElementChild);
}

const isUnseen = (element: Element) => !!element.closest('.unseen');

/** A tick for every line on which an author has a change, of what is drawn between two heights. */
export function measureTicks(
  view: EditorView,
  origin: number,
  from: number,
  to: number,
  changes: readonly Change[],
): Tick[] {
  const lines = new Map<string, Tick>();
  const kinds = new Map(changes.map(({ id, kind }) => [id, kind]));
  /** On the tick of its line, or on one of its own; marks of one line stand within a few pixels of each other. */
  const add = (author: string, change: string, middle: number) => {
    const line = [0, -1, 1, -2, 2].map((d) => `${author} ${Math.round(middle / 6) + d}`).find((key) => lines.has(key));
    const known = line && lines.get(line);
    if (known) {
      if (!known.changes.includes(change)) known.changes.push(change);
      return;
    }
    const key = `${author} ${Math.round(middle / 6)}`;
    const kind = kinds.get(change) ?? '';
    lines.set(key, { key, author, kind, changes: [change], y: middle - 12, height: 24, column: 0 });
  };
  const drawn = blocksBetween(view, origin + from, origin + to);
  for (const element of markedIn(drawn)) {
    const { author = '', change = '' } = element.dataset;
    if (!kinds.has(change)) continue; // out of the lens, or folded
    // A mark around a table, row or cell has no box; what it is around has.
    const number = footnoteNumber(element);
    // What stands in a footnote has its tick where the number is, whether the footnote is open or not.
    const box = number ?? (element.matches(blocks) ? (element.firstElementChild ?? element) : element);
    const around = box.getBoundingClientRect();
    if (around.bottom - origin < from || around.top - origin > to) continue;
    if (element.matches('.restyled') && !number) {
      // What is about a whole paragraph has one tick as long as it.
      const key = `${author} ${change} ${Math.round(around.top - origin)}`;
      const kind = kinds.get(change) ?? '';
      const { height } = around;
      lines.set(key, { key, author, kind, changes: [change], y: around.top - origin, height, column: 0 });
      continue;
    }
    for (const rect of box.getClientRects())
      if (rect.width || rect.height) add(author, change, Math.round((rect.top + rect.bottom) / 2 - origin));
  }
  // What is out of sight, at the side of the text, has a tick where it would stand.
  const hidden = 'ins.unseen, del.unseen, .runs-on';
  const within = (block: HTMLElement) => [...block.querySelectorAll<HTMLElement>(hidden)];
  for (const element of drawn.flatMap((block) => [...(block.matches(hidden) ? [block] : []), ...within(block)])) {
    const { author = '', change = '' } = element.dataset;
    if (!kinds.has(change)) continue;
    const y = heightBeside(element);
    if (y !== null && y - origin >= from && y - origin <= to) add(author, change, Math.round(y - origin + 12));
  }
  const ticks = [...lines.values()].sort((a, b) => a.y - b.y);
  ticks.forEach((tick, i) => {
    tick.column = ticks.slice(0, i).filter(({ y, height }) => y + height > tick.y + 12).length;
  });
  return ticks;
}

/** The top of the line on which something stands that is not drawn: where the text before it ends, or begins after it. */
function heightBeside(element: Element): number | null {
  const number = footnoteNumber(element);
  if (number) return number.getBoundingClientRect().top;
  const walker = document.createTreeWalker(element.closest('.ProseMirror') ?? element, NodeFilter.SHOW_TEXT);
  const shown = (node: Node | null) => node !== null && !isUnseen(node.parentElement!);
  walker.currentNode = element;
  let node = walker.previousNode();
  const block = element.closest('.paragraph') ?? element;
  while (node && !shown(node)) node = walker.previousNode();
  const before = node && (block.contains(node) || element.matches('.runs-on')) ? node : null;
  if (!before) {
    walker.currentNode = element;
    node = walker.nextNode();
    while (node && !shown(node)) node = walker.nextNode();
  }
  const text = before ?? node;
  if (!text) return null;
  const range = document.createRange();
  range.selectNodeContents(text);
  const rects = range.getClientRects();
  const rect = before ? rects[rects.length - 1] : rects[0];
  return rect ? rect.top : null;
}

/** The height at which a position of the text stands, or null when it is not drawn. */
export function heightOf(view: EditorView, pos: number, origin: number): number | null {
  try {
    const place = Math.min(pos, view.state.doc.content.size);
    const { node } = view.domAtPos(place, 1);
    const element = node instanceof Element ? node : node.parentElement;
    const hidden = element?.closest('.unseen');
    if (hidden) {
      const y = heightBeside(hidden);
      return y === null ? null : y - origin;
    }
    return boxAt(view, place).top - origin;
  } catch {
    return null;
  }
}

export const slipWidth = 470;

/** Under the last line of a range, within the sheet. */
export function slipPlace(view: EditorView, { from, to }: Range, sheet: HTMLElement): { left: number; top: number } {
  const box = sheet.getBoundingClientRect();
  const end = view.state.doc.content.size;
  const start = boxAt(view, Math.min(from + 1, end));
  const last = boxAt(view, Math.min(to, end));
  const left = Math.max(8, Math.min(start.left - box.left - 80, box.width - slipWidth - 8));
  return { left, top: Math.max(start.bottom, last.bottom) - box.top + 8 };
}
