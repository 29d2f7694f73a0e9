import { Tooltip } from '@mui/material';
import { Link, useLocation } from 'react-router';
import { useLooking, useOpened } from '../opened/opened';
import { pageAbove, type Page } from '../opened/page';

const pages: [page: Page, name: string, title: string][] = [
  ['text', 'Text', 'The text itself'],
  ['ledger', 'Ledger', 'Every change, pending and decided, as a table'],
  ['talk', 'Talk', 'Every thread of comments, as a list'],
  ['drafts', 'Drafts', 'Earlier states of the text, laid beside each other, and who wrote when'],
  ['last-look', 'Last look', 'What may still be wrong with the text: spelling, spaces, ends, consistency, house style'],
  ['people', 'People', 'Who may do what in this manuscript, and its settings'],
];

/** The ways to the pages of the manuscript, with the lens as it is. */
export function PageLinks() {
  const { info, me } = useOpened();
  const { id } = info;
  const { page: now } = useLooking();
  const { search } = useLocation();
  // Who is in the house besides those who write here is none of a guest’s business.
  const shown = me.guest ? pages.filter(([page]) => page !== 'people') : pages;
  return shown.map(([page, name, title]) => (
    <Tooltip key={page} title={title} disableFocusListener>
      <Link
        className="tab"
        aria-current={page === pageAbove(now) ? 'page' : undefined}
        to={{ pathname: `/m/${id}${page === 'text' ? '' : `/${page}`}`, search }}
      >
        {name}
      </Link>
    </Tooltip>
  ));
}
