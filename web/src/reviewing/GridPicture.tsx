import type { GridFacts } from '@tea-pencil/core';

const [width, height] = [17, 10];
/** So many rows and columns are drawn at most, around the first that is set off. */
const most = { rows: 8, columns: 14 };

/** Which of so many are drawn. */
function shown(howMany: number, first: number, limit: number): number[] {
  const from = Math.max(0, Math.min(first - Math.floor(limit / 2), howMany - limit));
  return Array.from({ length: Math.min(howMany, limit) }, (_, i) => from + i);
}

/** A table drawn small, as it is on one side of a change, with the part set off that comes or goes. */
export function GridPicture({ grid, side }: { grid: GridFacts; side: 'before' | 'after' }) {
  const { what, way, at } = grid;
  const there = (way === 'in') === (side === 'after');
  if (what === 'table' && !there) return <span className="second">no table</span>;
  const isMeant = (row: number, column: number) => what === 'table' || at.includes(what === 'row' ? row : column);
  const first = at[0] ?? 0;
  const keeps = (which: 'row' | 'column') => (i: number) => there || what !== which || !at.includes(i);
  const rows = shown(grid.rows, what === 'row' ? first : 0, most.rows).filter(keeps('row'));
  const columns = shown(grid.columns, what === 'column' ? first : 0, most.columns).filter(keeps('column'));
  const words = there ? `the table with the ${what}` : `the table without the ${what}`;
  return (
    <svg
      className="grid-picture"
      role="img"
      aria-label={what === 'table' ? 'the table' : words}
      width={columns.length * width + 2}
      height={rows.length * height + 2}
    >
      {rows.map((row, r) =>
        columns.map((column, c) => (
          <rect
            key={`${row} ${column}`}
            x={c * width + 1}
            y={r * height + 1}
            width={width}
            height={height}
            className={there && isMeant(row, column) ? `grid-${way}` : undefined}
          />
        )),
      )}
    </svg>
  );
}
