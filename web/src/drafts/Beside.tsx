import { LinearProgress } from '@mui/material';
import { useMemo, type RefObject } from 'react';
import { counted, listNumbers, type ListItem } from '@tea-pencil/core';
import type { BesideRow, DraftDifference, SideBySide } from '@tea-pencil/wire';
import { Blocks } from './Blocks';

interface Props {
  data: SideBySide;
  /** While another pair is on its way. */
  waiting: boolean;
  lit: string | null;
  scroller: RefObject<HTMLDivElement | null>;
  heads: [before: React.ReactNode, after: React.ReactNode];
}

/** Between two paragraphs: how many differences they have, in the hue of who made the first. */
function Gutter({ row, byId }: { row: BesideRow; byId: ReadonlyMap<string, DraftDifference> }) {
  if ('same' in row) return <div className="beside-gutter" />;
  const all = row.changes.flatMap((id) => byId.get(id) ?? []);
  const ink = all.filter(({ how }) => how === 'ink').length;
  return (
    <div
      className="beside-gutter"
      data-author={all[0]?.author}
      title={ink ? `${counted(ink, 'edit')} in ink` : undefined}
    >
      <span className="beside-line" />
      <span className={ink ? 'beside-many in-ink' : 'beside-many'}>
        <span className="heard-only">{counted(all.length, 'difference')}</span>
        <span aria-hidden>{all.length}</span>
        {ink > 0 && <span className="beside-ink">ink</span>}
      </span>
    </div>
  );
}

/** The numbers of list items of one side, row by row: a list goes on from row to row. */
function numbersOf(rows: readonly BesideRow[], side: 'before' | 'after'): (number | null)[][] {
  const blocks = rows.map((row) => ('same' in row ? row.same : row[side]) as Partial<BlockJson>[]);
  const numbers = listNumbers(blocks.flat().map(({ attrs }) => attrs?.list ?? null));
  let at = 0;
  return blocks.map(({ length }) => numbers.slice(at, (at += length)));
}
interface BlockJson {
  attrs: { list?: ListItem | null };
}

/** Two states of a text beside each other, paragraph by paragraph; on a narrow window one above the other. */
export function Beside({ data, waiting, lit, scroller, heads }: Props) {
  const byId = useMemo(() => new Map(data.differences.map((one) => [one.change, one])), [data]);
  const authorOf = useMemo(() => (change: string) => byId.get(change)?.author ?? null, [byId]);
  const numbers = useMemo(
    () => ({ before: numbersOf(data.rows, 'before'), after: numbersOf(data.rows, 'after') }),
    [data],
  );
  return (
    <div className="beside" ref={scroller} tabIndex={0} role="region" aria-label="Both states, beside each other">
      {waiting && (
        <LinearProgress className="beside-waiting" aria-label="The drafts are being laid beside each other" />
      )}
      <div className="beside-row beside-heads">
        <div>{heads[0]}</div>
        <div />
        <div>{heads[1]}</div>
      </div>
      {data.rows.map((row, i) => (
        <div className="beside-row sheet-row" key={i} data-changes={'same' in row ? undefined : row.changes.join(' ')}>
          <div className="beside-side earlier">
            <Blocks
              blocks={'same' in row ? row.same : row.before}
              numbers={numbers.before[i]}
              authorOf={authorOf}
              lit={lit}
            />
          </div>
          <Gutter row={row} byId={byId} />
          <div className={'same' in row ? 'beside-side later same' : 'beside-side later'}>
            <Blocks
              blocks={'same' in row ? row.same : row.after}
              numbers={numbers.after[i]}
              authorOf={authorOf}
              lit={lit}
            />
          </div>
        </div>
      ))}
    </div>
  );
}
