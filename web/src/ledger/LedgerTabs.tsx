import { Tooltip } from '@mui/material';
import { Link, useLocation } from 'react-router';
import { useLooking, useOpened } from '../opened/opened';

const lists = [
  { name: 'Changes', page: 'ledger', look: null, says: 'Recorded changes, pending and decided' },
  { name: 'In ink', page: 'ledger', look: 'ink', says: 'What went straight into the text, unrecorded' },
  { name: 'Figures', page: 'figures', look: null, says: 'Counts, as charts and as tables' },
] as const;

/** What there is of changes: the list of those that are recorded, what went in unrecorded, and figures. */
export function LedgerTabs() {
  const { info } = useOpened();
  const { page: now } = useLooking();
  const { search } = useLocation();
  const asked = new URLSearchParams(search).get('look');
  return (
    <nav aria-label="What is listed" className="tabs" style={{ height: 30 }}>
      {lists.map(({ name, page, look, says }) => {
        const query = new URLSearchParams(search);
        if (look) query.set('look', look);
        else query.delete('look');
        const isNow = page === now && (page === 'figures' || asked === look);
        return (
          <Tooltip key={name} title={says} disableFocusListener>
            <Link
              className="tab"
              aria-current={isNow ? 'page' : undefined}
              to={{ pathname: `/m/${info.id}/${page}`, search: query.toString() }}
            >
              {name}
            </Link>
          </Tooltip>
        );
      })}
    </nav>
  );
}
