import { Tooltip } from '@mui/material';
import { Link, useLocation } from 'react-router';
import { useLooking, useOpened } from '../opened/opened';
import type { Page } from '../opened/page';

const pages: [page: Page, name: string, title: string][] = [
  ['text', 'Text', 'The text itself'],
  ['ledger', 'Ledger', 'Every change, pending and decided, as a table'],
  ['talk', 'Talk', 'Every thread of comments, as a list'],
];

/** The ways to the pages of the manuscript, with the lens as it is. */
export function PageLinks() {
  const { id } = useOpened().info;
  const { page: now } = useLooking();
  const { search } = useLocation();
  return pages.map(([page, name, title]) => (
    <Tooltip key={page} title={title} disableFocusListener>
      <Link
        className="tab"
        aria-current={page === now ? 'page' : undefined}
        to={{ pathname: `/m/${id}${page === 'text' ? '' : `/${page}`}`, search }}
      >
        {name}
      </Link>
    </Tooltip>
  ));
}
