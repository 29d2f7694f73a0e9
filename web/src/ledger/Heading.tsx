import { Box, Button, Tooltip } from '@mui/material';
import { counted } from '@tea-pencil/core';
import type { LedgerLook } from '@tea-pencil/wire';
import { keepFile } from '../api/client';
import { useDrawn, useOpened } from '../opened/opened';
import { ColumnsMenu } from './Columns';
import { LedgerTabs } from './LedgerTabs';
import { csvOf, type Grouping, type Row } from './rows';

export const groupings: Grouping[] = ['alike', 'author', 'section', 'nothing'];

const save = (name: string, text: string) => keepFile(name, new Blob([text], { type: 'text/csv;charset=utf-8' }));

/** How many rows there are and in which groups; and a way to take them away. */
export function Heading({
  rows,
  groups,
  grouping,
  onGrouping,
  look,
  onLook,
}: {
  rows: readonly Row[];
  groups: readonly { rows: Row[] }[];
  grouping: Grouping;
  onGrouping(by: Grouping): void;
  look: LedgerLook;
  onLook(look: LedgerLook): void;
}) {
  const { info } = useOpened();
  const { doc } = useDrawn();
  const count = (test: (row: Row) => boolean) => rows.filter(test).length;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: '4px 16px', py: 1.5 }}>
      <LedgerTabs />
      <Box component="h1" sx={{ fontSize: 15, fontWeight: 600, m: 0 }}>
        {counted(rows.length, 'change')}
      </Box>
      <span className="second" data-testid="states">
        {rows.filter(({ pending }) => pending).length} to decide,{' '}
        {count(({ decided }) => decided?.verdict === 'accept')} accepted,{' '}
        {count(({ decided }) => decided?.verdict === 'reject')} rejected
      </span>
      <Box sx={{ flex: 1 }} />
      <span className="second">Together by</span>
      <div role="group" aria-label="Together by" className="tabs" style={{ height: 30 }}>
        {groupings.map((by) => (
          <button key={by} type="button" className="tab" aria-pressed={grouping === by} onClick={() => onGrouping(by)}>
            {by}
          </button>
        ))}
      </div>
      <ColumnsMenu look={look} onLook={onLook} />
      <Tooltip title="These rows, in this order, for any program that works with tables">
        <span>
          <Button
            color="inherit"
            disabled={!rows.length}
            onClick={() => {
              const ordered = groups.flatMap((group) => group.rows);
              save(`${info.title} · ledger.csv`, csvOf(ordered, doc, info));
            }}
            sx={{ bgcolor: 'background.paper' }}
          >
            Take away as CSV
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}
