import type { LedgerLook } from '@tea-pencil/wire';
import type { Column } from './rows';

/** The columns of the ledger: which there are, how wide they are, and which of them somebody sees. */

export type ColumnName = 'number' | 'place' | 'kind' | 'before' | 'after' | 'author' | 'made' | 'state' | 'talk';

interface ColumnSpec {
  name: ColumnName;
  label: string;
  /** By what its head sorts the rows, where it does. */
  sorts: Column | null;
  /** In pixels; without one it takes what room there is. */
  width: number | null;
}

export const columns: readonly ColumnSpec[] = [
  { name: 'number', label: 'No.', sorts: 'number', width: 42 },
  { name: 'place', label: 'Place', sorts: 'place', width: 150 },
  { name: 'kind', label: 'Kind', sorts: 'kind', width: 96 },
  { name: 'before', label: 'Before', sorts: null, width: null },
  { name: 'after', label: 'After', sorts: null, width: null },
  { name: 'author', label: 'Author', sorts: 'author', width: 140 },
  { name: 'made', label: 'Made', sorts: 'made', width: 112 },
  { name: 'state', label: 'State', sorts: 'state', width: 168 },
  { name: 'talk', label: 'Talk', sorts: null, width: 78 },
];

export const plainLedger: LedgerLook = { hidden: [], widths: {} };
export const narrowest = 40;
export const widest = 900;
/** What a column without a width of its own has at least. */
export const least = 150;
const gap = 8;
const choosing = 30;

export const widthIn = ({ widths }: LedgerLook, { name, width }: ColumnSpec): number | null => widths[name] ?? width;

/** The columns that are seen: without the words there would be nothing to read, so one of both sides stays. */
export function shownColumns({ hidden }: LedgerLook): readonly ColumnSpec[] {
  const shown = columns.filter(({ name }) => !hidden.includes(name));
  return shown.some(({ name }) => name === 'before' || name === 'after')
    ? shown
    : columns.filter(({ name }) => name === 'after' || !hidden.includes(name));
}

/** How wide they stand (CSS Grid Layout, grid-template-columns), and how wide a row is at least. */
export function layOf(look: LedgerLook): { template: string; width: number } {
  const shown = shownColumns(look);
  const widths = shown.map((column) => widthIn(look, column));
  const template = widths.map((width) => (width === null ? `minmax(${least}px, 1fr)` : `${width}px`));
  // Something takes the room that is left.
  if (!widths.includes(null)) template.push('minmax(0, 1fr)');
  const width = widths.reduce<number>((sum, one) => sum + (one ?? least) + gap, choosing + 2 * gap);
  return { template: `${choosing}px ${template.join(' ')}`, width };
}

/** The same with one column so wide. */
export const widened = (look: LedgerLook, name: ColumnName, width: number): LedgerLook => ({
  ...look,
  widths: { ...look.widths, [name]: Math.round(Math.min(widest, Math.max(narrowest, width))) },
});
