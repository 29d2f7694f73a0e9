import type { Node } from 'prosemirror-model';
import { TextSelection, type Command, type EditorState, type Transaction } from 'prosemirror-state';
import { TableMap, type Rect } from 'prosemirror-tables';
import { emptyCell, hasPendingGrid, hasSpans } from '../manuscript/grid.js';
import { schema } from '../manuscript/schema.js';

/**
 * Commands on tables. They make plain edits, of whole rows and columns of the grid; pencil or ink is laid over them like
 * over any other.
 */

const { table: tableType, table_row: rowType, table_cell: cellType } = schema.nodes;

const emptyRow = (columns: number): Node =>
  rowType.create(
    null,
    Array.from({ length: columns }, () => emptyCell()),
  );

/** Where the selection stands in a table. */
interface InTable {
  tablePos: number;
  /** Position before the cell, counted from the start of the table's content. */
  cell: number;
}

function inTableOf({ selection: { $from } }: EditorState): InTable | null {
  for (let depth = $from.depth; depth > 1; depth--) {
    if ($from.node(depth).type !== cellType) continue;
    const tablePos = $from.before(depth - 2);
    return { tablePos, cell: $from.before(depth) - tablePos - 1 };
  }
  return null;
}

/** A table as it stands while it is being edited. */
class Grid {
  readonly table: Node;
  readonly map: TableMap;
  readonly #steps: number;

  constructor(
    readonly tr: Transaction,
    readonly tablePos: number,
  ) {
    this.table = tr.doc.nodeAt(tablePos)!;
    this.map = TableMap.get(this.table);
    this.#steps = tr.mapping.maps.length;
  }

  /** The position in the text, as it is by now, of one in the table as it was. */
  at = (pos: number): number => this.tr.mapping.slice(this.#steps).map(this.tablePos + 1 + pos);
  cellAt = (row: number, column: number): number => this.map.map[row * this.map.width + column]!;
  nodeAt = (cell: number): Node => this.table.nodeAt(cell)!;

  /** Whether one cell goes over the border before a column, or above a row. */
  crossesColumn = (row: number, column: number): boolean =>
    column > 0 && column < this.map.width && this.cellAt(row, column - 1) === this.cellAt(row, column);
  crossesRow = (row: number, column: number): boolean =>
    row > 0 && row < this.map.height && this.cellAt(row - 1, column) === this.cellAt(row, column);

  insert(row: number, column: number, node: Node): void {
    this.tr.insert(this.at(this.map.positionAt(row, column, this.table)), node);
  }
  remove(cell: number): void {
    const from = this.at(cell);
    this.tr.delete(from, from + this.nodeAt(cell).nodeSize);
  }
  span(cell: number, which: 'colspan' | 'rowspan', by: number): void {
    const pos = this.at(cell);
    this.tr.setNodeAttribute(pos, which, (this.tr.doc.nodeAt(pos)!.attrs[which] as number) + by);
  }
  rowPos(row: number): number {
    let pos = 0;
    for (let r = 0; r < row; r++) pos += this.table.child(r).nodeSize;
    return pos;
  }
}

/** A command inside a table; elsewhere, and where the grid does not allow it, it does nothing. */
const inTable =
  (act: (tr: Transaction, tablePos: number, rect: Rect, cell: number) => boolean): Command =>
  (state, dispatch) => {
    const place = inTableOf(state);
    if (!place) return false;
    const { tr } = state;
    const rect = TableMap.get(tr.doc.nodeAt(place.tablePos)!).findCell(place.cell);
    const table = tr.doc.nodeAt(place.tablePos)!;
    if (!act(tr, place.tablePos, rect, place.cell)) return false;
    // Where cells span, rows and columns cannot be decided one by one: not while any of them are to be.
    const now = tr.doc.nodeAt(place.tablePos);
    const spanned = hasSpans(table) || (now?.type === tableType && hasSpans(now));
    if (spanned && now?.type === tableType && hasPendingGrid(table)) return false;
    dispatch?.(tr.scrollIntoView());
    return true;
  };

/** A table where the caret is. The paragraph is split there, so that text stands on both sides of it. */
export const insertTable =
  (rows: number, columns: number): Command =>
  (state, dispatch) => {
    const { $from } = state.selection;
    if ($from.depth !== 1) return false;
    const tr = state.tr.deleteSelection();
    const pos = tr.selection.from;
    tr.split(pos).insert(
      pos + 1,
      tableType.create(
        null,
        Array.from({ length: rows }, () => emptyRow(columns)),
      ),
    );
    dispatch?.(tr.setSelection(TextSelection.near(tr.doc.resolve(pos + 4))).scrollIntoView());
    return true;
  };

export const addRow = (side: 'above' | 'below'): Command =>
  inTable((tr, tablePos, rect) => {
    const grid = new Grid(tr, tablePos);
    const { width } = grid.map;
    const row = side === 'above' ? rect.top : rect.bottom;
    let cells = 0;
    for (let column = 0; column < width;) {
      if (grid.crossesRow(row, column)) {
        const cell = grid.cellAt(row, column);
        grid.span(cell, 'rowspan', 1);
        column += grid.nodeAt(cell).attrs.colspan as number;
      } else {
        cells++;
        column++;
      }
    }
    if (!cells) return false;
    tr.insert(grid.at(grid.rowPos(row)), emptyRow(cells));
    return true;
  });

export const addColumn = (side: 'before' | 'behind'): Command =>
  inTable((tr, tablePos, rect) => {
    const grid = new Grid(tr, tablePos);
    const column = side === 'before' ? rect.left : rect.right;
    let cells = 0;
    for (let row = 0; row < grid.map.height;) {
      if (grid.crossesColumn(row, column)) {
        const cell = grid.cellAt(row, column);
        grid.span(cell, 'colspan', 1);
        row += grid.nodeAt(cell).attrs.rowspan as number;
      } else {
        grid.insert(row, column, emptyCell(!!grid.table.child(row).firstChild?.attrs.header));
        cells++;
        row++;
      }
    }
    return cells > 0;
  });

export const deleteTable: Command = inTable((tr, tablePos) => {
  tr.delete(tablePos, tablePos + tr.doc.nodeAt(tablePos)!.nodeSize);
  return true;
});

function removeColumn(grid: Grid, column: number): void {
  const { width, height } = grid.map;
  const starts = (row: number, cell: number) => grid.map.findCell(cell).top === row;
  for (let row = 0; row < height; row++) {
    const cell = grid.cellAt(row, column);
    if (!starts(row, cell)) continue;
    const alone = grid.table.child(row).childCount === 1;
    if ((grid.nodeAt(cell).attrs.colspan as number) > 1) grid.span(cell, 'colspan', -1);
    else if (!alone) grid.remove(cell);
    else {
      // All else in the row comes from above: nothing would begin in it any more, so it goes.
      const from = grid.rowPos(row);
      grid.tr.delete(grid.at(from), grid.at(from + grid.table.child(row).nodeSize));
      const above = new Set(Array.from({ length: width }, (_, c) => grid.cellAt(row, c)));
      for (const one of above) if (one !== cell) grid.span(one, 'rowspan', -1);
    }
  }
}

function removeRow(grid: Grid, row: number): void {
  const { width, height } = grid.map;
  const seen = new Set<number>();
  const moved: [column: number, cell: Node][] = [];
  for (let column = 0; column < width; column++) {
    const cell = grid.cellAt(row, column);
    if (seen.has(cell)) continue;
    seen.add(cell);
    const node = grid.nodeAt(cell);
    const { rowspan } = node.attrs as { rowspan: number };
    if (grid.crossesRow(row, column)) grid.span(cell, 'rowspan', -1);
    else if (rowspan > 1 && row + 1 < height)
      moved.push([column, cellType.create({ ...node.attrs, rowspan: rowspan - 1 }, node.content, node.marks)]);
  }
  // What goes on below the row goes on there.
  for (const [column, cell] of moved) grid.insert(row + 1, column, cell);
  const from = grid.rowPos(row);
  grid.tr.delete(grid.at(from), grid.at(from + grid.table.child(row).nodeSize));
}

const deleting = (
  remove: (grid: Grid, at: number) => void,
  from: keyof Rect,
  to: keyof Rect,
  size: 'width' | 'height',
) =>
  inTable((tr, tablePos, rect) => {
    const { map, table } = new Grid(tr, tablePos);
    if (rect[to] - rect[from] >= map[size]) tr.delete(tablePos, tablePos + table.nodeSize);
    else for (let at = rect[to] - 1; at >= rect[from]; at--) remove(new Grid(tr, tablePos), at);
    return true;
  });

/** The row, or the column, in which the caret is; the last one takes the table along. */
export const deleteRow: Command = deleting(removeRow, 'top', 'bottom', 'height');
export const deleteColumn: Command = deleting(removeColumn, 'left', 'right', 'width');

/** Makes one cell of the cell with the caret and its neighbour; they must stand side by side in full. */
export const mergeCell = (side: 'right' | 'down'): Command =>
  inTable((tr, tablePos, rect, cell) => {
    const grid = new Grid(tr, tablePos);
    const { width, height } = grid.map;
    if (side === 'right' ? rect.right >= width : rect.bottom >= height) return false;
    const other = side === 'right' ? grid.cellAt(rect.top, rect.right) : grid.cellAt(rect.bottom, rect.left);
    const beside = grid.map.findCell(other);
    const fits =
      side === 'right'
        ? beside.top === rect.top && beside.bottom === rect.bottom
        : beside.left === rect.left && beside.right === rect.right;
    // A row, or a column, of which nothing is left would stand nowhere.
    const left = grid.table.child(beside.top).childCount > 1 || side === 'right';
    if (!fits || !left) return false;
    const node = grid.nodeAt(other);
    grid.remove(other);
    if (node.textContent || node.childCount > 1) {
      const here = grid.nodeAt(cell);
      const content = here.textContent || here.childCount > 1 ? here.content.append(node.content) : node.content;
      const pos = grid.at(cell);
      tr.replaceWith(pos + 1, pos + here.nodeSize - 1, content);
    }
    const size = side === 'right' ? beside.right - beside.left : beside.bottom - beside.top;
    grid.span(cell, side === 'right' ? 'colspan' : 'rowspan', size);
    return true;
  });

/** Makes cells of one row and column each of a cell that spans several; its words stay in the first. */
export const splitCell: Command = inTable((tr, tablePos, rect, cell) => {
  const grid = new Grid(tr, tablePos);
  const { colspan, rowspan, header } = grid.nodeAt(cell).attrs as { colspan: number; rowspan: number; header: boolean };
  if (colspan === 1 && rowspan === 1) return false;
  for (let row = rect.top; row < rect.bottom; row++)
    for (let column = rect.left; column < rect.right; column++)
      if (row !== rect.top || column !== rect.left) {
        const at = row === rect.top ? cell + grid.nodeAt(cell).nodeSize : grid.map.positionAt(row, column, grid.table);
        tr.insert(grid.at(at), emptyCell(header));
      }
  grid.span(cell, 'colspan', 1 - colspan);
  grid.span(cell, 'rowspan', 1 - rowspan);
  return true;
});

/** Makes the first row a header row, or an ordinary one again. */
export const toggleHeaderRow: Command = inTable((tr, tablePos) => {
  const first = tr.doc.nodeAt(tablePos)!.child(0);
  const header = !first.child(0).attrs.header;
  let pos = tablePos + 2;
  first.forEach((each) => {
    tr.setNodeAttribute(pos, 'header', header);
    pos += each.nodeSize;
  });
  return true;
});

/** Whether the selection is in a table. */
export const isInTable = (state: EditorState): boolean => inTableOf(state) !== null;

/** The caret in the first cell of a table’s last row. */
function inLastRow(tr: Transaction, tablePos: number): Transaction {
  const table = tr.doc.nodeAt(tablePos);
  if (!table?.lastChild || table.type !== schema.nodes.table) return tr;
  const row = tablePos + table.nodeSize - 1 - table.lastChild.nodeSize;
  return tr.setSelection(TextSelection.near(tr.doc.resolve(row + 2))).scrollIntoView();
}

/** Puts the caret into the next (1) or the previous (-1) cell; behind the last one a row is added. */
export const nextCell =
  (direction: 1 | -1): Command =>
  (state, dispatch) => {
    const place = inTableOf(state);
    if (!place) return false;
    const starts: number[] = [];
    state.doc
      .nodeAt(place.tablePos)!
      .forEach((line, rowOffset) =>
        line.forEach((_, offset) => starts.push(place.tablePos + 1 + rowOffset + 1 + offset)),
      );
    const here = starts.filter((pos) => pos < state.selection.from).length - 1;
    const pos = starts[here + direction];
    // Behind the last cell another row begins; before the first there is nothing, and the key may leave the sheet.
    if (pos === undefined)
      return direction === 1 && addRow('below')(state, dispatch && ((tr) => dispatch(inLastRow(tr, place.tablePos))));
    dispatch?.(state.tr.setSelection(TextSelection.near(state.doc.resolve(pos + 1))).scrollIntoView());
    return true;
  };
