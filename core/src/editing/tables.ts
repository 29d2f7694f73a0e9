import type { Node } from 'prosemirror-model';
import { TextSelection, type Command, type EditorState, type Transaction } from 'prosemirror-state';
import { schema } from '../manuscript/schema.js';

/** Commands on tables. They make plain edits; pencil or ink is laid over them like over any other. */

const { table, table_row: row, table_cell: cell, paragraph } = schema.nodes;

const emptyCell = (header = false): Node => cell.create({ header }, paragraph.create());
const emptyRow = (columns: number, header = false): Node =>
  row.create(
    null,
    Array.from({ length: columns }, () => emptyCell(header)),
  );

/** Where the selection stands in a table. */
interface InTable {
  table: Node;
  /** Positions before the table and before the row. */
  tablePos: number;
  rowPos: number;
  row: number;
  column: number;
}

function inTableOf({ selection: { $from } }: EditorState): InTable | null {
  for (let depth = $from.depth; depth > 1; depth--) {
    if ($from.node(depth).type !== cell) continue;
    return {
      table: $from.node(depth - 2),
      tablePos: $from.before(depth - 2),
      rowPos: $from.before(depth - 1),
      row: $from.index(depth - 2),
      column: $from.index(depth - 1),
    };
  }
  return null;
}

/** A command inside a table; elsewhere it does nothing. */
const inTable =
  (act: (tr: Transaction, place: InTable) => Transaction | null): Command =>
  (state, dispatch) => {
    const place = inTableOf(state);
    const tr = place && act(state.tr, place);
    if (!tr) return false;
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
      table.create(
        null,
        Array.from({ length: rows }, () => emptyRow(columns)),
      ),
    );
    dispatch?.(tr.setSelection(TextSelection.near(tr.doc.resolve(pos + 4))).scrollIntoView());
    return true;
  };

const rowAt = (place: InTable, index: number): number => {
  let pos = place.tablePos + 1;
  for (let i = 0; i < index; i++) pos += place.table.child(i).nodeSize;
  return pos;
};

export const addRow = (side: 'above' | 'below'): Command =>
  inTable((tr, place) => {
    const columns = place.table.child(place.row).childCount;
    return tr.insert(rowAt(place, place.row + (side === 'below' ? 1 : 0)), emptyRow(columns));
  });

/** Each row's position of its nth cell, from the last row to the first; rows that are shorter are left out. */
function* cellsAt(place: InTable, column: number): Generator<{ pos: number; cell: Node | null; header: boolean }> {
  for (let r = place.table.childCount - 1; r >= 0; r--) {
    const line = place.table.child(r);
    if (column > line.childCount) continue;
    let pos = rowAt(place, r) + 1;
    for (let c = 0; c < column; c++) pos += line.child(c).nodeSize;
    yield { pos, cell: line.maybeChild(column), header: !!line.child(0).attrs.header };
  }
}

export const addColumn = (side: 'before' | 'behind'): Command =>
  inTable((tr, place) => {
    const column = place.column + (side === 'behind' ? 1 : 0);
    for (const { pos, header } of cellsAt(place, column)) tr.insert(pos, emptyCell(header));
    return tr;
  });

export const deleteTable: Command = inTable((tr, { table: whole, tablePos }) =>
  tr.delete(tablePos, tablePos + whole.nodeSize),
);

export const deleteRow: Command = (state, dispatch) => {
  const place = inTableOf(state);
  if (!place || place.table.childCount === 1) return deleteTable(state, dispatch);
  return inTable((tr, { rowPos, table: whole, row: index }) => tr.delete(rowPos, rowPos + whole.child(index).nodeSize))(
    state,
    dispatch,
  );
};

export const deleteColumn: Command = (state, dispatch) => {
  const place = inTableOf(state);
  if (!place || place.table.child(place.row).childCount === 1) return deleteTable(state, dispatch);
  return inTable((tr, here) => {
    for (const { pos, cell: at } of cellsAt(here, here.column)) if (at) tr.delete(pos, pos + at.nodeSize);
    return tr;
  })(state, dispatch);
};

/** Makes the first row a header row, or an ordinary one again. */
export const toggleHeaderRow: Command = inTable((tr, place) => {
  const first = place.table.child(0);
  const header = !first.child(0).attrs.header;
  let pos = rowAt(place, 0) + 1;
  first.forEach((each) => {
    tr.setNodeAttribute(pos, 'header', header);
    pos += each.nodeSize;
  });
  return tr;
});

/** Whether the selection is in a table. */
export const isInTable = (state: EditorState): boolean => inTableOf(state) !== null;

/** Puts the caret into the next (1) or the previous (-1) cell; behind the last one a row is added. */
export const nextCell =
  (direction: 1 | -1): Command =>
  (state, dispatch) => {
    const place = inTableOf(state);
    if (!place) return false;
    const starts: number[] = [];
    place.table.forEach((line, rowOffset) =>
      line.forEach((_, offset) => starts.push(place.tablePos + 1 + rowOffset + 1 + offset)),
    );
    const here = starts.filter((pos) => pos < state.selection.from).length - 1;
    const pos = starts[here + direction];
    if (pos === undefined) return direction === 1 ? addRow('below')(state, dispatch) : true;
    dispatch?.(state.tr.setSelection(TextSelection.near(state.doc.resolve(pos + 1))).scrollIntoView());
    return true;
  };
