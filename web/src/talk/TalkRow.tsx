import { openQueries, type Thread } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { CompactThread, OpenThread } from './ThreadCard';

interface Props {
  thread: Thread;
  /** Where in the text it is, in words. */
  place: string;
  open: boolean;
  onOpen(open: boolean): void;
}

/** A thread in the list: its words, what is said, how it stands. */
export function TalkRow({ thread, place, open, onOpen }: Props) {
  const {
    info,
    me: { id: me },
    nameOf,
  } = useOpened();
  const { lost, goTo } = useTalkContext();
  const { whole, quote, resolved, turned, comments, date } = thread;
  const owed = [...new Set(openQueries(thread).map(({ query }) => query.to))];
  const last = comments.at(-1);
  return (
    <div className={`talk-row${resolved ? ' resolved' : ''}`}>
      <button type="button" className="talk-row-place" onClick={() => goTo(thread.id)} title="To its place in the text">
        <span className="second">{place}</span>
        {thread.toSelf && (
          <span className="thread-kind" style={{ marginLeft: 8 }}>
            to myself
          </span>
        )}
        {thread.change !== undefined && <span className="second"> · on a change</span>}
        <span className="serif talk-row-words">{whole ? 'The whole manuscript' : quote ? `“${quote}”` : '—'}</span>
        {lost.has(thread.id) && <span className="second">its words have gone</span>}
      </button>
      <div>
        {open ? <OpenThread thread={thread} /> : <CompactThread thread={thread} bare />}
        <button
          type="button"
          className="talk-act"
          aria-expanded={open}
          onClick={() => onOpen(!open)}
          style={{ marginLeft: -4 }}
        >
          {open ? 'Close' : 'Answer'}
        </button>
      </div>
      <div className="second">
        <div>
          {resolved
            ? `resolved${turned ? ` by ${nameOf(turned.by)}, ${said(turned.date)}` : ''}`
            : turned
              ? `opened again by ${nameOf(turned.by)}`
              : 'open'}
        </div>
        {owed.map((person) => (
          <div key={person} style={{ color: 'var(--tea)' }}>
            {whoIs(info, person) === me ? 'you owe' : `${nameOf(person)} owes`} an answer
          </div>
        ))}
        <div>{last ? `last said ${said(last.date)}` : `highlighted ${said(date)}`}</div>
      </div>
    </div>
  );
}
