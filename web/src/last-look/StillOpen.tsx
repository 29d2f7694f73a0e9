import { useMemo } from 'react';
import { Link, useLocation } from 'react-router';
import { counted, everything, lensToQuery, openQueries, type Thread } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';
import { useLastLook } from './context';
import { useReviewed } from '../reviewing/use-reviewing';

interface Props {
  threads: readonly Thread[];
  /** With findings, and a way to each of the people. */
  ways?: boolean;
}

/** What is still open besides findings: changes by person, queries and threads. */
export function StillOpen({ threads, ways = false }: Props) {
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
  // What is handed over holds no notes to oneself.
  const told = ways ? threads.filter(({ toSelf }) => !toSelf) : threads;
  const queries = told.flatMap(openQueries).length;
  const open = told.filter(({ resolved }) => !resolved).length;
  const to = (page: string) => ({ pathname: `/m/${info.id}${page}`, search });
  const { findings, doc } = useLastLook();
  const found = ways ? findings.length : 0;
  const of = (person: string) => lensToQuery({ ...everything, authors: [person] });
  if (!changes.length && !open && !found && (doc || !ways))
    return <p className="look-said">Nothing is pending, and no thread is open.</p>;
  return (
    <ul className="look-open">
      {changes.length > 0 && (
        <li>
          <Link to={to('')}>{counted(changes.length, 'change')} pending</Link>
          <span className="second">
            {people.map(([person, many], i) => (
              <span key={person}>
                {i ? ', ' : ' '}
                {ways ? (
                  <Link to={{ pathname: `/m/${info.id}`, search: of(person) }}>
                    {nameOf(person)} {many}
                  </Link>
                ) : (
                  `${nameOf(person)} ${many}`
                )}
              </span>
            ))}
          </span>
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
      {ways && (found > 0 || !doc) && (
        <li>
          {doc ? (
            <>
              <Link to={to('/last-look')}>{counted(found, 'finding')}</Link>
              <span className="second"> of the last look that nobody has put right or left</span>
            </>
          ) : (
            <span className="second">The text is being looked over …</span>
          )}
        </li>
      )}
    </ul>
  );
}
