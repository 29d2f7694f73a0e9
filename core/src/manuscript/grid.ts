import { Fragment, type Mark, type Node } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import { TableMap } from 'prosemirror-tables';
import { schema } from './schema.js';

/** Tables as grids: whether their rows fill one, and what is pending about their columns. */

const { table: tableType, table_cell: cellType, paragraph } = schema.nodes;

export const isTableNode = (node: Node): boolean => node.type === tableType;

/** An empty cell. */
export const emptyCell = (header = false): Node => cellType.create({ header }, paragraph.create());

const spans = ({ attrs }: Node) => attrs.colspan !== 1 || attrs.rowspan !== 1;
const isSimple = (table: Node) => table.children.every((row) => !row.children.some(spans));

/** Whether a cell of a table goes over several columns or rows. */
export const hasSpans = (table: Node): boolean => !isSimple(table);

/**
 * How many places the grid of a table has: rows and columns multiplied, and what its cells span; of one whose rows do not
 * fill it, as many as it takes to fill it up.
 */
export function gridSize(table: Node): number {
  const rows = table.childCount;
  let width = 0;
  let spanned = 0;
  table.forEach((row, _, r) => {
    let columns = 0;
    row.forEach(({ attrs }) => {
      columns += attrs.colspan as number;
      spanned += (attrs.colspan as number) * Math.min(attrs.rowspan as number, rows - r);
    });
    width = Math.max(width, columns);
  });
  return Math.max(width * rows, spanned);
}

/** Larger grids than this are not laid out: no manuscript may hold one. */
const largestGrid = 100_000;

const whole = new WeakMap<Node, boolean>();

/** Whether the rows of a table fill its grid, pending ones included. */
export function isWhole(table: Node): boolean {
  let is = whole.get(table);
  if (is === undefined) {
    const first = table.firstChild!.childCount;
    is = isSimple(table)
      ? table.children.every(({ childCount }) => childCount === first)
      : gridSize(table) <= largestGrid &&
        !TableMap.get(table).problems?.some(({ type }) => type !== 'colwidth mismatch');
    whole.set(table, is);
  }
  return is;
}

const isStructural = ({ type }: Mark) => type === schema.marks.insertion || type === schema.marks.deletion;

/** The marks that insert or delete cells of a column, each once, in the order of the rows. */
function marksOfColumn(table: Node, column: number): readonly Mark[] {
  const found: Mark[] = [];
  for (const row of table.children)
    for (const mark of row.child(column).marks)
      if (isStructural(mark) && !found.some((one) => one.eq(mark))) found.push(mark);
  return found;
}

const spread = new WeakMap<Node, Node>();

/**
 * A table in which what is pending about a column is so for all its cells: a row that came after a column was put in or
 * struck out has its cell go with it. A column is decided as one, whoever made its rows.
 * @returns the table itself where that is so already, or where cells span and no column can be told from another
 */
export function withColumns(table: Node): Node {
  const known = spread.get(table);
  if (known) return known;
  let made = table;
  const pending = table.children.some((row) => row.children.some(({ marks }) => marks.some(isStructural)));
  if (pending && isSimple(table) && isWhole(table)) {
    const marks = table.firstChild!.children.map((_, column) => marksOfColumn(table, column));
    const rows = table.children.map((row) => {
      const cells = row.children.map((cell, column) => {
        const all = marks[column]!.reduce((now, mark) => mark.addToSet(now), cell.marks);
        return all.length === cell.marks.length ? cell : cell.mark(all);
      });
      return cells.some((cell, i) => cell !== row.child(i)) ? row.copy(Fragment.fromArray(cells)) : row;
    });
    if (rows.some((row, i) => row !== table.child(i))) made = table.copy(Fragment.fromArray(rows));
  }
  spread.set(table, made);
  return made;
}

/**
 * For each column of a table whether all its cells were put in by one person and nothing else is pending about it: then it
 * can go without a trace.
 */
export function ownColumns(table: Node, isOwn: (mark: Mark) => boolean): readonly boolean[] {
  if (!isSimple(table) || !isWhole(table)) return [];
  return table.firstChild!.children.map((_, column) =>
    table.children.every((row) => {
      const marks = row.child(column).marks.filter(isStructural);
      return marks.length > 0 && marks.every((mark) => mark.type === schema.marks.insertion && isOwn(mark));
    }),
  );
}

/** Whether anything is pending about the rows or cells of a table. */
export const hasPendingGrid = (table: Node): boolean =>
  table.children.some((row) => [row, ...row.children].some(({ marks }) => marks.some(isStructural)));

/** Whether something is pending about the rows or cells of a table that is not one's own. */
export const hasStructureOfOthers = (table: Node, isOwn: (mark: Mark) => boolean): boolean =>
  table.children.some((row) =>
    [row, ...row.children].some(({ marks }) => marks.some((mark) => isStructural(mark) && !isOwn(mark))),
  );

const isEmpty = (cell: Node) => !cell.textContent && cell.childCount === 1 && cell.firstChild!.childCount === 0;

/** Where in a row that is too short cells are missing: under a column that somebody has just put in, else at its end. */
function missingIn(row: Node, longest: Node): number[] {
  const missing = longest.childCount - row.childCount;
  const at: number[] = [];
  longest.forEach((cell, _, column) => {
    const inserted = cell.marks.find(({ type }) => type === schema.marks.insertion);
    const here = row.maybeChild(column - at.length);
    if (at.length < missing && inserted && !inserted.isInSet(here?.marks ?? [])) at.push(column);
  });
  while (at.length < missing) at.push(row.childCount + at.length);
  return at;
}

/** The rows of a table without spans, each filled up with empty cells to the longest. */
function filled(table: Node): Node {
  const longest = table.children.reduce((a, b) => (b.childCount > a.childCount ? b : a));
  return table.copy(
    Fragment.fromArray(
      table.children.map((row) => {
        const cells = [...row.children];
        for (const column of missingIn(row, longest)) cells.splice(column, 0, emptyCell(!!cells[0]?.attrs.header));
        return row.copy(Fragment.fromArray(cells));
      }),
    ),
  );
}

/** A whole table in which no cell spans: the words of one that did stay in its first place. */
function unspanned(table: Node): Node {
  const { map, width, height } = TableMap.get(table);
  const seen = new Set<number>();
  return table.copy(
    Fragment.fromArray(
      Array.from({ length: height }, (_, r) =>
        table.child(r).copy(
          Fragment.fromArray(
            Array.from({ length: width }, (__, c) => {
              const pos = map[r * width + c]!;
              const cell = table.nodeAt(pos)!;
              if (seen.has(pos)) return emptyCell(!!cell.attrs.header);
              seen.add(pos);
              return cellType.create({ ...cell.attrs, colspan: 1, rowspan: 1 }, cell.content, cell.marks);
            }),
          ),
        ),
      ),
    ),
  );
}

/**
 * Whether a table can stay as it is: its rows fill its grid, and where cells span nothing is pending about rows and
 * columns, which could not be told apart then.
 */
export const isSettled = (table: Node): boolean => isWhole(table) && !(hasSpans(table) && hasPendingGrid(table));

/** A table whose rows fill its grid; where cells overlap or reach out of it, none spans any more. */
export function squared(table: Node): Node {
  if (isSettled(table)) return table;
  if (isWhole(table)) return unspanned(table);
  if (isSimple(table)) return filled(table);
  const rows = table.children.map((row) =>
    row.copy(
      Fragment.fromArray(
        row.children.map((cell) =>
          cellType.create({ ...cell.attrs, colspan: 1, rowspan: 1 }, cell.content, cell.marks),
        ),
      ),
    ),
  );
  return filled(table.copy(Fragment.fromArray(rows)));
}

/** A text as it is once its tables are filled up. */
export const evened = (doc: Node): Node =>
  doc.children.every((block) => !isTableNode(block) || isSettled(block))
    ? doc
    : doc.copy(Fragment.fromArray(doc.children.map((block) => (isTableNode(block) ? squared(block) : block))));

/**
 * Fills the tables of a text up that are not whole, as when one person puts in a row while another puts in a column.
 * Nothing goes but empty cells at the end of a row that is longer than all others.
 * @returns whether there was anything to do
 */
export function squareTables(tr: Transform): boolean {
  const { doc } = tr;
  const start = tr.steps.length;
  let pos = doc.content.size;
  for (let i = doc.childCount - 1; i >= 0; i--) {
    const table = doc.child(i);
    pos -= table.nodeSize;
    if (!isTableNode(table) || isSettled(table)) continue;
    if (hasSpans(table)) tr.replaceWith(pos, pos + table.nodeSize, squared(table));
    else squareRows(tr, table, pos);
  }
  return tr.steps.length > start;
}

function squareRows(tr: Transform, table: Node, tablePos: number): void {
  const lengths = table.children.map(({ childCount }) => childCount);
  const most = Math.max(...lengths);
  const usual = Math.max(...lengths.filter((n) => n < most), 0);
  // One row alone that is longer than all others by empty cells loses those.
  const only = lengths.filter((n) => n === most).length === 1 ? lengths.indexOf(most) : -1;
  const surplus = only >= 0 ? table.child(only).children.slice(usual) : [];
  const cuts = usual > 0 && surplus.every((cell) => isEmpty(cell) && !cell.marks.length) ? only : -1;
  const longest = table.child(cuts >= 0 ? lengths.findIndex((n) => n === usual) : lengths.indexOf(most));
  let rowEnd = tablePos + table.nodeSize - 1;
  for (let r = table.childCount - 1; r >= 0; r--) {
    const row = table.child(r);
    const rowPos = rowEnd - row.nodeSize;
    const at = (column: number) =>
      row.children.slice(0, column).reduce((sum, { nodeSize }) => sum + nodeSize, rowPos + 1);
    if (r === cuts) tr.delete(at(longest.childCount), rowEnd - 1);
    else {
      const columns = missingIn(row, longest);
      // From the end, so that places further up stay good.
      for (let k = columns.length - 1; k >= 0; k--)
        tr.insert(at(Math.min(columns[k]! - k, row.childCount)), emptyCell(!!row.firstChild?.attrs.header));
    }
    rowEnd = rowPos;
  }
}
