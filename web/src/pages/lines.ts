/** Lines of a block as the browser has set them, and a block taken apart between two of them. */

/** Where a line begins: in a text, or before a thing that is none. */
export interface LineStart {
  node: Node;
  offset: number;
}

/** What stands in a line besides its first place. */
export interface MeasuredLine {
  start: LineStart;
  /** The notes that are called in it. */
  notes: number[];
}

const isThing = (node: Node): boolean =>
  node instanceof (node.ownerDocument!.defaultView as Window & typeof globalThis).HTMLElement &&
  node.matches('img, .carried-thing');

/** The texts and things of a block, in order. */
function piecesOf(block: HTMLElement): Node[] {
  const walker = block.ownerDocument.createTreeWalker(block, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT);
  const pieces: Node[] = [];
  for (let node = walker.nextNode(); node; node = walker.nextNode())
    if (node.nodeType === 3 ? node.textContent : isThing(node)) pieces.push(node);
  return pieces;
}

/** The lines of a paragraph: a rectangle whose middle lies below all of the line before begins one. */
export function linesIn(block: HTMLElement): MeasuredLine[] {
  const range = block.ownerDocument.createRange();
  const lines: MeasuredLine[] = [];
  let bottom = -Infinity;
  /** Whether a rectangle begins a line: its middle lies below all of the line before. */
  const begins = (rect: DOMRect): boolean => {
    if (!rect.height) return false;
    const isNew = (rect.top + rect.bottom) / 2 > bottom;
    bottom = isNew ? rect.bottom : Math.max(bottom, rect.bottom);
    return isNew;
  };
  for (const node of piecesOf(block)) {
    if (node.nodeType !== 3) {
      if (begins((node as HTMLElement).getBoundingClientRect())) lines.push({ start: { node, offset: -1 }, notes: [] });
    } else {
      range.selectNodeContents(node);
      const rects = [...range.getClientRects()];
      const length = node.textContent!.length;
      let from = 0;
      rects.forEach((rect, i) => {
        if (!begins(rect)) return;
        if (i) from = firstIn(range, node, from, length, rect.top);
        lines.push({ start: { node, offset: from }, notes: [] });
      });
    }
    const call = node.parentElement?.closest<HTMLElement>('[data-note]');
    if (call && call !== block && lines.length && node.nodeType === 3)
      lines.at(-1)!.notes.push(Number(call.dataset.note));
  }
  return lines;
}

/** The first letter of a text whose line begins at a height or below it. */
function firstIn(range: Range, node: Node, from: number, length: number, top: number): number {
  let [low, high] = [from, length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    range.setStart(node, middle);
    range.setEnd(node, middle + 1);
    const rects = range.getClientRects();
    // A space that hangs at the end of a line has the place of that line.
    const rect = rects[rects.length - 1];
    if (rect && rect.top >= top - 1) high = middle;
    else low = middle + 1;
  }
  // Never between the halves of a pair of surrogates.
  const text = node.textContent!;
  return /[\udc00-\udfff]/.test(text[low] ?? '') && low > from ? low - 1 : low;
}

/** What of a block stands between two lines, as a block of its own. */
export function partOf(block: HTMLElement, start: LineStart | null, end: LineStart | null): HTMLElement {
  const range = block.ownerDocument.createRange();
  range.selectNodeContents(block);
  if (start) {
    if (start.offset < 0) range.setStartBefore(start.node);
    else range.setStart(start.node, start.offset);
  }
  if (end) {
    if (end.offset < 0) range.setEndBefore(end.node);
    else range.setEnd(end.node, end.offset);
  }
  const part = block.cloneNode(false) as HTMLElement;
  part.append(range.cloneContents());
  if (start) part.classList.add('continued');
  if (end) part.classList.add('goes-on');
  return part;
}
