import fc from 'fast-check';
import type { Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Command } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import { TableMap } from 'prosemirror-tables';
import {
  addColumn,
  addRow,
  beforeReading,
  checkBatch,
  decide,
  deleteColumn,
  deleteRow,
  fairReading,
  ink,
  isWhole,
  listChanges,
  mergeCell,
  rebase,
  record,
  schema,
  splitCell,
  squared,
  squareTables,
  withoutAuthor,
} from '../src/index.js';
import { authors, paragraph, stamps, table } from './support/editing.js';

/** Whatever is recorded in a table and decided, in any order, by several people: its rows fill its grid. */

const commands: Record<string, Command> = {
  'row above': addRow('above'),
  'row below': addRow('below'),
  'column before': addColumn('before'),
  'column behind': addColumn('behind'),
  'delete row': deleteRow,
  'delete column': deleteColumn,
  'merge right': mergeCell('right'),
  'merge down': mergeCell('down'),
  split: splitCell,
  type: (state, dispatch) => {
    dispatch?.(state.tr.insertText('x'));
    return true;
  },
};
const names = Object.keys(commands);

interface Act {
  command: string;
  /** Which cell of those there are, from 0 to 1. */
  cell: number;
  author: number;
  inInk: boolean;
  /** Decides a change instead. */
  decides: 'accept' | 'reject' | null;
}
const someAct: fc.Arbitrary<Act> = fc.record({
  command: fc.constantFrom(...names),
  cell: fc.double({ min: 0, max: 0.999, noNaN: true }),
  author: fc.nat(2),
  inInk: fc.constantFrom(false, false, false, true),
  decides: fc.constantFrom(null, null, null, 'accept' as const, 'reject' as const),
});
const someTable = fc
  .tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 }))
  .map(([rows, columns]) =>
    table(...Array.from({ length: rows }, (_, r) => Array.from({ length: columns }, (__, c) => `${r}${c}`))),
  );

const around = (...between: Node[]): Node =>
  schema.nodes.doc.create(null, [paragraph('above'), ...between, paragraph('below')]);

const tablesOf = (doc: Node): Node[] => doc.children.filter(({ type }) => type.name === 'table');

/** Whether the rows fill the grid, by the library's own map of the table. */
const fills = (one: Node): boolean => {
  const { problems } = TableMap.get(one);
  return !problems?.some(({ type }) => type !== 'colwidth mismatch');
};
const allWhole = (doc: Node): boolean => tablesOf(doc).every(fills);

/** The places of the first letters of all cells. */
function cellsIn(doc: Node): number[] {
  const found: number[] = [];
  doc.descendants((node, pos) => void (node.type.name === 'table_cell' && found.push(pos + 2)));
  return found;
}

/** An edit of somebody in a cell, as its steps; null where the command does nothing there. */
function edited(doc: Node, { command, cell, author, inInk }: Act, stamp: ReturnType<typeof stamps>): Transform | null {
  const places = cellsIn(doc);
  const at = places[Math.floor(cell * places.length)];
  if (at === undefined) return null;
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, at) });
  let made: Transform | null = null;
  commands[command]!(state, (tr) => (made = inInk ? ink(state, tr) : record(state, tr, stamp(author))));
  return made;
}

function acted(doc: Node, act: Act, stamp: ReturnType<typeof stamps>): Node {
  if (!act.decides) return edited(doc, act, stamp)?.doc ?? doc;
  const changes = listChanges(doc);
  const change = changes[Math.floor(act.cell * changes.length)];
  return change ? decide(new Transform(doc), [change.id], act.decides).doc : doc;
}

const script = fc.array(someAct, { maxLength: 14 });
const runs = Number(process.env.LAWS_GRIDS ?? 400);

test('the grid is whole after any edits and decisions, in every reading, and however the rest is decided', () => {
  let structural = 0;
  fc.assert(
    fc.property(someTable, script, fc.array(fc.boolean(), { minLength: 20, maxLength: 20 }), (one, acts, verdicts) => {
      const stamp = stamps();
      let doc = around(one);
      for (const act of acts) {
        doc = acted(doc, act, stamp);
        expect(allWhole(doc)).toBe(true);
      }
      expect(
        [fairReading(doc), beforeReading(doc), ...authors.map((author) => withoutAuthor(doc, author))].map(allWhole),
      ).toEqual(Array.from({ length: 2 + authors.length }, () => true));
      const changes = listChanges(doc);
      structural += changes.filter(({ kind }) => kind === 'table').length;
      let now = doc;
      for (const [i, { id }] of changes.entries()) {
        now = decide(new Transform(now), [id], verdicts[i % 20] ? 'accept' : 'reject').doc;
        expect(allWhole(now)).toBe(true);
      }
      // In whatever order they are decided, the tables come to the same.
      let back = doc;
      for (const [i, { id }] of [...changes.entries()].reverse())
        back = decide(new Transform(back), [id], verdicts[i % 20] ? 'accept' : 'reject').doc;
      expect(allWhole(back)).toBe(true);
      expect(tablesOf(back).map(String)).toEqual(tablesOf(now).map(String));
      expect(decide(new Transform(doc), 'all', 'accept').doc.eq(fairReading(doc))).toBe(true);
      expect(decide(new Transform(doc), 'all', 'reject').doc.eq(beforeReading(doc))).toBe(true);
    }),
    { numRuns: runs },
  );
  expect(structural).toBeGreaterThan(runs / 2);
}, 3_600_000);

test('in pencil a table edit keeps to the rules: without its author the text is as it was', () => {
  fc.assert(
    fc.property(someTable, script, someAct, (one, acts, last) => {
      const stamp = stamps();
      let doc = around(one);
      for (const act of acts) doc = acted(doc, act, stamp);
      const tr = edited(doc, { ...last, inInk: false }, stamp);
      if (!tr) return;
      const sender = { author: authors[last.author]!, now: '2026-11-26T12:00:00Z', known: () => undefined };
      const known = new Map(listChanges(doc).map(({ id, author, date }) => [id, { author, date }]));
      expect(
        checkBatch(doc, tr.doc, tr.steps, tr.mapping, 'pencil', { ...sender, known: (id) => known.get(id) }),
      ).toBeNull();
    }),
    { numRuns: runs },
  );
}, 3_600_000);

test('one puts in or takes out rows while another does so with columns: made whole, it stays so', () => {
  let mended = 0;
  fc.assert(
    fc.property(someTable, script, someAct, someAct, script, (one, acts, mine, yours, more) => {
      const stamp = stamps();
      let doc = around(one);
      for (const act of acts) doc = acted(doc, act, stamp);
      const first = edited(doc, mine, stamp);
      const second = edited(doc, { ...yours, author: (mine.author + 1) % 3 }, stamp);
      if (!first || !second) return;
      const words = (text: Node) => [...text.textContent].sort().join('');
      const tr = new Transform(rebase(second, first.steps).doc);
      const before = words(tr.doc);
      if (squareTables(tr)) mended++;
      expect(words(tr.doc)).toBe(before);
      let now = tr.doc;
      expect(allWhole(now)).toBe(true);
      for (const act of more) {
        now = acted(now, act, stamp);
        expect(allWhole(now)).toBe(true);
      }
      expect(allWhole(fairReading(now)) && allWhole(beforeReading(now))).toBe(true);
    }),
    { numRuns: runs },
  );
  expect(mended).toBeGreaterThan(0);
}, 3_600_000);

test('whatever rows and spans a table comes with, squared it fills its grid and no word is lost', () => {
  const cell = fc.record({ colspan: fc.integer({ min: 1, max: 3 }), rowspan: fc.integer({ min: 1, max: 3 }) });
  fc.assert(
    fc.property(fc.array(fc.array(cell, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 4 }), (rows) => {
      let n = 0;
      const { table: whole, table_row: row, table_cell: one } = schema.nodes;
      const ragged = whole.create(
        null,
        rows.map((cells) =>
          row.create(
            null,
            cells.map((attrs) => one.create(attrs, paragraph(`w${n++};`))),
          ),
        ),
      );
      const made = squared(ragged);
      expect([isWhole(made), fills(made)]).toEqual([true, true]);
      expect(made.textContent).toBe(ragged.textContent);
    }),
    { numRuns: runs },
  );
});
