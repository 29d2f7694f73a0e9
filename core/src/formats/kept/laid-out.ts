import type { Node } from 'prosemirror-model';

/** Where a cell stands in the grid. */
export interface Placed {
  cell: Node;
  pos: number;
  row: number;
  column: number;
}

/** The cells of each row with their columns, those that go on from above included. */
export function laidOut(table: Node, start: number): { rows: { own: Placed[]; all: Placed[] }[]; width: number } {
  const below: Placed[][] = [];
  let width = 0;
  let rowStart = start + 1;
  const rows = table.children.map((row, r) => {
    const going = below[r] ?? [];
    const taken = new Set(going.flatMap(({ cell, column }) => spanned(cell).map((n) => column + n)));
    const own: Placed[] = [];
    let column = 0;
    let pos = rowStart + 1;
    for (const cell of row.children) {
      while (taken.has(column)) column++;
      const placed = { cell, pos, row: r, column };
      own.push(placed);
      for (let n = 1; n < (cell.attrs.rowspan as number) && r + n < table.childCount; n++)
        (below[r + n] ??= []).push(placed);
      column += cell.attrs.colspan as number;
      width = Math.max(width, column);
      pos += cell.nodeSize;
    }
    rowStart += row.nodeSize;
    return { own, all: [...own, ...going].sort((a, b) => a.column - b.column) };
  });
  return { rows, width };
}
export const spanned = (cell: Node) => Array.from({ length: cell.attrs.colspan as number }, (_, n) => n);
