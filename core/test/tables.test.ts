import { EditorState, TextSelection, type Command } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  addColumn,
  addRow,
  beforeReading,
  contained,
  decide,
  deleteColumn,
  deleteRow,
  deleteTable,
  describeChange,
  fairReading,
  insertFootnote,
  insertPicture,
  insertTable,
  isInTable,
  listChanges,
  mergeCell,
  nextCell,
  record,
  schema,
  splitCell,
  toggleHeaderRow,
  toggleList,
} from '../src/index.js';
import { paragraph, stamps, table } from './support/editing.js';

const around = (...rows: string[][]) =>
  schema.nodes.doc!.create(null, [paragraph('above'), table(...rows), paragraph('below')]);
const cells = (doc: Node) => {
  const rows: string[][] = [];
  doc.descendants((node) => {
    if (node.type.name === 'table_row') rows.push([]);
    if (node.type.name === 'table_cell') rows[rows.length - 1]!.push(node.textContent);
  });
  return rows;
};
const positionOf = (doc: Node, text: string) => {
  let found = -1;
  doc.descendants((node, pos) => {
    if (node.isText && node.text === text) found = pos;
  });
  return found;
};

/** A command in pencil, with the caret in front of the words. */
function run(doc: Node, at: string, command: Command) {
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, positionOf(doc, at)) });
  let after = state;
  const did = command(state, (tr) => (after = state.apply(record(state, tr, stamps()(0)))));
  return { did, after, doc: after.doc };
}

const grid = around(['a', 'b'], ['c', 'd']);

test.each<[string, Command, string[][]]>([
  [
    'a row above',
    addRow('above'),
    [
      ['', ''],
      ['a', 'b'],
      ['c', 'd'],
    ],
  ],
  [
    'a row below',
    addRow('below'),
    [
      ['a', 'b'],
      ['', ''],
      ['c', 'd'],
    ],
  ],
  [
    'a column before',
    addColumn('before'),
    [
      ['', 'a', 'b'],
      ['', 'c', 'd'],
    ],
  ],
  [
    'a column behind',
    addColumn('behind'),
    [
      ['a', '', 'b'],
      ['c', '', 'd'],
    ],
  ],
  ['a row less', deleteRow, [['c', 'd']]],
  ['a column less', deleteColumn, [['b'], ['d']]],
  ['no table', deleteTable, []],
])('one change makes %s, and rejecting it brings back what was', (_, command, expected) => {
  const { doc } = run(grid, 'a', command);
  expect(listChanges(doc).map(({ kind }) => kind)).toEqual(['table']);
  expect(cells(fairReading(doc))).toEqual(expected);
  expect(beforeReading(doc).eq(grid)).toBe(true);
  const { id } = listChanges(doc)[0]!;
  expect(decide(new Transform(doc), [id], 'reject').doc.eq(grid)).toBe(true);
  expect(decide(new Transform(doc), [id], 'accept').doc.eq(fairReading(doc))).toBe(true);
});

test('a table splits the paragraph it is put into, and text inside it belongs to its change', () => {
  const { after } = run(grid, 'above', insertTable(1, 2));
  expect(isInTable(after)).toBe(true);
  const typed = after.apply(record(after, after.tr.insertText('x'), stamps()(0)));
  expect(listChanges(typed.doc)).toHaveLength(1);
  expect(cells(typed.doc)[0]).toEqual(['x', '']);
  expect(beforeReading(typed.doc).eq(grid)).toBe(true);
});

test('the last row, or the last column, takes the table along', () => {
  expect(cells(fairReading(run(around(['a', 'b']), 'a', deleteRow).doc))).toEqual([]);
  expect(cells(fairReading(run(around(['a'], ['b']), 'a', deleteColumn).doc))).toEqual([]);
});

test('a header row is a pending property of its cells', () => {
  const { doc } = run(grid, 'c', toggleHeaderRow);
  expect(fairReading(doc).child(1).child(0).child(0).attrs.header).toBe(true);
  expect(fairReading(doc).child(1).child(1).child(0).attrs.header).toBe(false);
  expect(beforeReading(doc).eq(grid)).toBe(true);
});

test('the caret goes from cell to cell, and behind the last into a new row', () => {
  const next = run(grid, 'a', nextCell(1));
  expect(next.after.selection.$from.parent.textContent).toBe('b');
  expect(run(grid, 'b', nextCell(-1)).after.selection.$from.parent.textContent).toBe('a');
  const further = run(grid, 'd', nextCell(1));
  expect(cells(further.doc)).toHaveLength(3);
  // One goes on in the new row; before the first cell the key is left to the page.
  const { $from } = further.after.selection;
  expect([$from.index(1), $from.index(2), $from.parent.textContent]).toEqual([2, 0, '']);
  expect(run(grid, 'a', nextCell(-1)).did).toBe(false);
});

test('outside a table the commands of tables do nothing', () => {
  for (const command of [addRow('above'), addColumn('behind'), deleteTable, toggleHeaderRow, nextCell(1)]) {
    expect(run(grid, 'above', command).did).toBe(false);
  }
});

test('a selection never covers half a table', () => {
  const select = (anchor: number, head: number) => contained(TextSelection.create(grid, anchor, head));
  const [above, a, d, below] = ['above', 'a', 'd', 'below'].map((text) => positionOf(grid, text)) as [
    number,
    number,
    number,
    number,
  ];
  expect(select(above, a).to).toBe(below);
  expect(select(below, d).from).toBe(above + 'above'.length);
  expect(select(a, below).to).toBe(a + 1);
  expect(select(a, above).from).toBe(a);
  expect(select(above, below).to).toBe(below);
});

const tides = around(['Day', 'High', 'Low'], ['Mon', '4.1', '0.6'], ['', '3.9', '0.8']);
test.each<[string, string, Command]>([
  ['deleted the column “High”', '4.1', deleteColumn],
  ['inserted a column behind “High”', '4.1', addColumn('behind')],
  ['inserted a column before “Day”', 'Day', addColumn('before')],
  ['inserted a row below “Mon”', '4.1', addRow('below')],
  ['inserted a row above “Day”', 'High', addRow('above')],
  ['deleted the row “Mon”', '0.6', deleteRow],
  ['deleted row 3 of a table', '3.9', deleteRow],
  ['deleted a table of 3 by 3', '3.9', deleteTable],
])('it is said: %s; and drawn, with as many rows and columns as there are', (words, at, command) => {
  const { doc } = run(tides, at, command);
  const [change] = listChanges(doc);
  expect(describeChange(change!)).toBe(words);
  const { rows, columns } = change!.grid!;
  const table = doc.child(1);
  expect([rows, columns]).toEqual([table.childCount, table.child(0).childCount]);
});

test('cells are merged and split as one change; what stands in them is not lost, and a column beside it is not touched', () => {
  const merged = run(tides, 'High', mergeCell('right'));
  expect(listChanges(merged.doc).map(({ kind }) => kind)).toEqual(['table']);
  const fair = fairReading(merged.doc);
  expect(cells(fair)).toEqual([
    ['Day', 'HighLow'],
    ['Mon', '4.1', '0.6'],
    ['', '3.9', '0.8'],
  ]);
  expect(beforeReading(merged.doc).eq(tides)).toBe(true);
  // Deleting the column beside the cell that spans leaves that cell as it is.
  const beside = fairReading(run(fair, 'Mon', deleteColumn).doc);
  expect(cells(beside)).toEqual([['HighLow'], ['4.1', '0.6'], ['3.9', '0.8']]);
  const through = fairReading(run(fair, '4.1', deleteColumn).doc);
  expect(cells(through)).toEqual([
    ['Day', 'HighLow'],
    ['Mon', '0.6'],
    ['', '0.8'],
  ]);
  expect(through.child(1).child(0).child(1).attrs.colspan).toBe(1);
  const apart = fairReading(run(fair, 'High', splitCell).doc);
  expect(cells(apart)[0]).toEqual(['Day', 'HighLow', '']);
  // Not while rows or columns wait for a decision: they could not be told apart any more.
  expect(run(run(tides, 'Mon', addRow('below')).doc, 'High', mergeCell('right')).did).toBe(false);
});

test('pictures, lists and footnotes stand in cells', () => {
  const list = run(tides, '4.1', toggleList('bullet'));
  expect(fairReading(list.doc).child(1).child(1).child(1).firstChild!.attrs.list).toEqual({ kind: 'bullet', level: 0 });
  for (const command of [insertFootnote('see there'), insertPicture({ asset: 'a', alt: 'a', width: 9, height: 9 })]) {
    const { doc } = run(tides, '4.1', command);
    doc.check();
    expect(beforeReading(doc).eq(tides)).toBe(true);
    expect(fairReading(doc).child(1).child(1).child(1).firstChild!.childCount).toBe(2);
  }
});
