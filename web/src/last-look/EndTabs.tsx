import { Link, useLocation } from 'react-router';
import { useLooking, useOpened } from '../opened/opened';
import type { Page } from '../opened/page';

const pages: [page: Page, name: string][] = [
  ['last-look', 'Findings'],
  ['fair-copy', 'Fair copy'],
  ['report', 'Report'],
  ['print', 'Print'],
];

/** The pages of the end of the work: what may still be wrong, and what is made of it. */
export function EndTabs() {
  const { info } = useOpened();
  const { page: now } = useLooking();
  const { search } = useLocation();
  return (
    <nav aria-label="The end of the work" className="tabs end-tabs">
      {pages.map(([page, name]) => (
        <Link
          key={page}
          className="tab"
          aria-current={page === now ? 'page' : undefined}
          to={{ pathname: `/m/${info.id}/${page}`, search }}
        >
          {name}
        </Link>
      ))}
    </nav>
  );
}
