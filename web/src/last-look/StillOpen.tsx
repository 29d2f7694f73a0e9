import { useMemo } from 'react';
import { Link, useLocation } from 'react-router';
import { counted, openQueries, type Thread } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';

/** What is still open besides findings: changes by person, queries and threads. */
export function StillOpen({ threads }: { threads: readonly Thread[] }) {
  const { info, nameOf } = useOpened();
  const { changes } = useReviewed();
  const { search } = useLocation();
  const people = useMemo(() => {
    const is = new Map(info.people.map((one) => [one.id, one.is]));
    const counts = new Map<string, number>();
    for (const { author } of changes) {
      const person = is.get(author) ?? author;
      counts.set(person, (counts.get(person) ?? 0) + 1);
    }
    return [...counts].sort((a, b) => b[1] - a[1]);
  }, [changes, info.people]);
  const queries = threads.flatMap(openQueries).length;
  const open = threads.filter(({ resolved }) => !resolved).length;
  const to = (page: string) => ({ pathname: `/m/${info.id}${page}`, search });
  if (!changes.length && !open) return <p className="look-said">Nothing is pending, and no thread is open.</p>;
  return (
    <ul className="look-open">
      {changes.length > 0 && (
        <li>
          <Link to={to('')}>{counted(changes.length, 'change')} pending</Link>
          <span className="second"> {people.map(([person, many]) => `${nameOf(person)} ${many}`).join(', ')}</span>
        </li>
      )}
      {open > 0 && (
        <li>
          <Link to={to('/talk')}>{counted(open, 'thread')} open</Link>
          {queries > 0 && (
            <span className="second"> {queries === 1 ? '1 query waits' : `${queries} queries wait`} for an answer</span>
          )}
        </li>
      )}
    </ul>
  );
}
