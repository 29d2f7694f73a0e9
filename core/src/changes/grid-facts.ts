import type { Mark, Node } from 'prosemirror-model';
import { hasSpans } from '../manuscript/grid.js';
import type { ChangeId } from '../manuscript/signature.js';

/** What a change does to the grid of a table, so that it can be said and drawn. */
export interface GridFacts {
  what: 'table' | 'row' | 'column';
  /** Whether it puts in or takes out. */
  way: 'in' | 'out';
  /** How large the table is, with all that is pending. */
  rows: number;
  columns: number;
  /** Which rows or columns, from 0; of a whole table none. */
  at: number[];
  /** What the first of them is told by: the words at the head of the column or the beginning of the row. */
  name: string;
  /** The same of the one before it, and behind it, where there is one. */
  before: string | null;
  behind: string | null;
}

const wayOf = (marks: readonly Mark[], change: ChangeId): GridFacts['way'] | null => {
  const mark = marks.find(({ type, attrs }) => attrs.change === change && /^(insertion|deletion)$/.test(type.name));
  return mark ? (mark.type.name === 'insertion' ? 'in' : 'out') : null;
};

const most = 40;
const wordsIn = (cell: Node | null | undefined): string => {
  const words = (cell?.textBetween(0, cell.content.size, ' ') ?? '').replace(/\s+/g, ' ').trim();
  return words.length > most ? `${words.slice(0, most - 1)}…` : words;
};

/** What a change does to the grid of a table; null where it does nothing to it, or where cells span. */
export function gridFactsOf(table: Node, change: ChangeId): GridFacts | null {
  const rows = table.childCount;
  const columns = table.firstChild!.childCount;
  const whole = wayOf(table.marks, change);
  if (whole)
    return {
      what: 'table',
      way: whole,
      rows,
      columns,
      at: [],
      name: wordsIn(table.firstChild!.firstChild),
      before: null,
      behind: null,
    };
  if (hasSpans(table)) return null;
  const ofRows = table.children.map(({ marks }) => wayOf(marks, change));
  const ofColumns = Array.from({ length: columns }, (_, column) =>
    table.children.map((row) => wayOf(row.maybeChild(column)?.marks ?? [], change)).find(Boolean),
  );
  const facts = (what: 'row' | 'column', ways: readonly (GridFacts['way'] | null | undefined)[]): GridFacts | null => {
    const at = ways.flatMap((way, i) => (way ? [i] : []));
    const first = at[0];
    const last = at.at(-1);
    if (first === undefined || last === undefined) return null;
    const head = (i: number) =>
      i < 0 || i >= ways.length
        ? null
        : wordsIn(what === 'row' ? table.child(i).firstChild : table.firstChild!.maybeChild(i));
    return {
      what,
      way: ways[first]!,
      rows,
      columns,
      at,
      name: head(first)!,
      before: head(first - 1),
      behind: head(last + 1),
    };
  };
  return facts('row', ofRows) ?? facts('column', ofColumns);
}

const ordinal = (facts: GridFacts) => `${facts.what} ${(facts.at[0] ?? 0) + 1}`;

/** What it does, in words: "deleted the column “High”", "inserted a row below “Mon”". */
export function describeGrid(facts: GridFacts): string {
  const { what, way, rows, columns, at, name, before, behind } = facts;
  const verb = way === 'in' ? 'inserted' : 'deleted';
  if (what === 'table') return `${verb} a table of ${rows} by ${columns}`;
  if (at.length > 1) return `${verb} ${at.length} ${what}s of a table`;
  if (way === 'out') return name ? `deleted the ${what} “${name}”` : `deleted ${ordinal(facts)} of a table`;
  const [after, ahead] = what === 'row' ? ['below', 'above'] : ['behind', 'before'];
  if (before) return `inserted a ${what} ${after} “${before}”`;
  return behind ? `inserted a ${what} ${ahead} “${behind}”` : `inserted ${ordinal(facts)} of a table`;
}
