import { memo, useEffect, useRef, useState } from 'react';
import type { Thread } from '@tea-pencil/core';
import { useCommands } from '../commands/acts';
import { OneOfMany } from '../kit/ErrorBoundary';
import { nothingInFocus, useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { neighbour, neighbouringQuery } from './neighbours';
import type { Begun } from './shapes';
import { CompactThread, OpenThread } from './ThreadCard';
import { useTops } from './use-tops';
import { Writing } from './Writing';

interface Props {
  /** All threads that are shown, by place. */
  threads: readonly Thread[];
  /** Where those near the window begin, in pixels from the top of the margin. */
  heights: ReadonlyMap<string, number>;
  focused: string | null;
  begunAt: number;
  /** Whether it has no room beside the sheet: then the thread one is at comes from below. */
  below: boolean;
}

/** Threads of comments beside the words they are about, as near as they can stand without overlapping. */
export const TalkMargin = memo(function TalkMargin(props: Props) {
  const { threads, heights, focused, begunAt, below } = props;
  const { toText, focus, say } = useOpened();
  const onFocus = (thread: string | null) => focus.set({ ...nothingInFocus, thread });
  const { nameOf } = useOpened();
  const { talk, goTo } = useTalkContext();
  const { begun } = talk;
  const margin = useRef<HTMLDivElement>(null);
  const [replying, setReplying] = useState<string | null>(null);
  const near = threads.filter(({ id }) => heights.has(id));
  const wanted = [
    ...near.map(({ id }) => `${Math.round(heights.get(id)!)} ${id}`),
    ...(begun ? [`${Math.round(begunAt)} begun`] : []),
  ]
    .sort((a, b) => parseInt(a) - parseInt(b))
    .join('\n');
  const front = begun ? 'begun' : focused;

  const tops = useTops(margin, wanted, front);

  // Who goes from note to note by keyboard has the focus on the one they are at, as soon as it is drawn.
  const going = useRef<string | null>(null);
  const arrive = () => {
    if (going.current === null || !tops.has(going.current)) return;
    const note = margin.current?.querySelector(`[data-note="${CSS.escape(going.current)}"]`);
    going.current = null;
    note?.querySelector<HTMLElement>('[role=comment]')?.focus();
  };
  useEffect(arrive);
  const go = (id: string | null) => {
    if (id === null) return;
    setReplying(null);
    going.current = id;
    goTo(id);
    arrive();
  };

  const thread = threads.find(({ id }) => id === focused);
  const query = (direction: 1 | -1) => {
    const next = neighbouringQuery(threads, focused, direction);
    if (next === null || next === focused) say('No other query waits for an answer.');
    else go(next);
  };
  const inMargin = () => !!margin.current?.contains(document.activeElement);
  const onText = () => {
    onFocus(null);
    toText();
  };
  useCommands({
    margin: () => (inMargin() ? onText() : go(focused ?? neighbour(threads, null, 1))),
    'next thread': () => go(neighbour(threads, focused, 1)),
    'previous thread': () => go(neighbour(threads, focused, -1)),
    'next query': () => query(1),
    'previous query': () => query(-1),
    reply: () => setReplying(focused),
    resolve: () => {
      if (!thread) return;
      talk.resolve(thread, !thread.resolved);
      // The card may go with the keyboard on it.
      if (!thread.resolved) margin.current?.focus();
    },
    'open thread': () => {
      const note = document.activeElement?.closest<HTMLElement>('[data-note]')?.dataset.note;
      if (note) onFocus(note);
    },
    'leave margin': onText,
  });

  const frame = (id: string) => ({
    'data-note': id,
    className: 'talk-note',
    // Not seen until it has its place, but there: a field in it can have the focus at once.
    style: { top: tops.get(id) ?? (id === 'begun' ? begunAt : heights.get(id)), opacity: tops.has(id) ? undefined : 0 },
  });
  return (
    <aside ref={margin} aria-label="Talk margin" className="talk-margin" tabIndex={-1}>
      {below && focused && !begun && (
        <button type="button" className="from-below-close" aria-label="Close the thread" onClick={onText}>
          ×
        </button>
      )}
      {begun && (
        <div {...frame('begun')}>
          <BegunCard key={begun.id} begun={begun} />
        </div>
      )}
      {near.map((thread) => {
        const open = focused === thread.id;
        const { id, comments, author, quote } = thread;
        return (
          <div key={id} {...frame(id)}>
            <div
              role="comment"
              tabIndex={0}
              aria-label={`Thread by ${nameOf(comments[0]?.author ?? author)} on “${quote}”`}
              className={open ? 'thread-card open' : 'thread-card'}
              onClick={() => open || onFocus(id)}
              onFocus={() => open || onFocus(id)}
            >
              <OneOfMany what="This thread" of={thread}>
                {open ? (
                  <OpenThread
                    key={replying === id ? 'replying' : 'open'}
                    thread={thread}
                    replyFocus={replying === id}
                  />
                ) : (
                  <CompactThread thread={thread} />
                )}
              </OneOfMany>
            </div>
          </div>
        );
      })}
    </aside>
  );
});

/** The field of a comment that is being begun, with what it is about. */
function BegunCard({ begun }: { begun: Begun }) {
  const { talk } = useTalkContext();
  const { whole, quote, from } = begun;
  const words = quote.length > 90 ? quote.slice(0, 88) + '…' : quote;
  return (
    <div className="thread-card begun">
      <div className="serif begun-words">
        {whole ? 'On the whole manuscript' : quote ? `“${words}”` : 'At this place'}
      </div>
      <Writing
        label="Your comment"
        button="Comment"
        where={`new ${begun.id}`}
        autoFocus
        mayBeAlone
        words={quote || null}
        about={whole ? { whole: true } : { quote, from }}
        onSend={talk.keep}
        onLeave={talk.leave}
      />
    </div>
  );
}
