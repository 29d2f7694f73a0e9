import { memo, useEffect, useEffectEvent, useLayoutEffect, useRef, useState } from 'react';
import { placeNotes, type Thread } from '@tea-pencil/core';
import { useTalkContext } from './context';
import { neighbour, neighbouringQuery } from './neighbours';
import { CompactThread, OpenThread } from './ThreadCard';
import { Writing } from './Writing';

interface Props {
  /** All threads that are shown, by place. */
  threads: readonly Thread[];
  /** Where those near the window begin, in pixels from the top of the margin. */
  heights: ReadonlyMap<string, number>;
  focused: string | null;
  begunAt: number;
  onFocus(thread: string | null): void;
  /** Brings a thread into sight and into focus. */
  onGo(thread: string): void;
  /** Back to the text. */
  onText(): void;
}

/** Threads of comments beside the words they are about, as near as they can stand without overlapping. */
export const TalkMargin = memo(function TalkMargin(props: Props) {
  const { threads, heights, focused, begunAt, onFocus, onGo, onText } = props;
  const { nameOf, talk } = useTalkContext();
  const { begun } = talk;
  const margin = useRef<HTMLDivElement>(null);
  const [tops, setTops] = useState<ReadonlyMap<string, number>>(new Map());
  const [replying, setReplying] = useState<string | null>(null);
  const near = threads.filter(({ id }) => heights.has(id));
  const wanted = [
    ...near.map(({ id }) => `${Math.round(heights.get(id)!)} ${id}`),
    ...(begun ? [`${Math.round(begunAt)} begun`] : []),
  ]
    .sort((a, b) => parseInt(a) - parseInt(b))
    .join('\n');
  const front = begun ? 'begun' : focused;

  // Heights are known only once drawn, so the notes are placed after each drawing and whenever one grows.
  useLayoutEffect(() => {
    const notes = wanted ? wanted.split('\n').map((line) => line.split(' ') as [string, string]) : [];
    const drawn = new Map<string, HTMLElement>();
    margin.current!.querySelectorAll<HTMLElement>('[data-note]').forEach((note) => drawn.set(note.dataset.note!, note));
    const place = () => {
      const placed = placeNotes(
        notes.map(([y, id]) => ({
          wanted: Number(y),
          height: drawn.get(id)?.offsetHeight ?? 0,
          weight: id === front ? 100 : 1,
        })),
        10,
      );
      const next = new Map(notes.map(([, id], i) => [id, placed[i]!]));
      setTops((before) =>
        before.size === next.size && [...next].every(([id, y]) => before.get(id) === y) ? before : next,
      );
    };
    const growing = new ResizeObserver(place);
    drawn.forEach((note) => growing.observe(note));
    place();
    return () => growing.disconnect();
  }, [wanted, front]);

  // Who goes from note to note by keyboard has the focus on the one they are at, as soon as it is drawn.
  const [going, setGoing] = useState<string | null>(null);
  const drawn = going !== null && tops.has(going);
  useEffect(() => {
    if (!drawn) return;
    margin.current?.querySelector<HTMLElement>(`[data-note="${CSS.escape(going!)}"] > [role=comment]`)?.focus();

    setGoing(null);
  }, [drawn, going]);
  const go = (id: string | null) => {
    if (id === null) return;
    setReplying(null);
    setGoing(id);
    onGo(id);
  };

  const keys = useEffectEvent((event: KeyboardEvent) => {
    if (event.key !== 'F4' || !event.shiftKey) return;
    event.preventDefault();
    if (margin.current?.contains(document.activeElement)) onText();
    else go(focused ?? neighbour(threads, null, 1));
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => keys(event);
    addEventListener('keydown', listen);
    return () => removeEventListener('keydown', listen);
  }, []);

  const onKeyDown = (event: React.KeyboardEvent) => {
    const { target, key, ctrlKey, metaKey, altKey } = event;
    if (
      ctrlKey ||
      metaKey ||
      altKey ||
      (target as HTMLElement).closest('input, textarea, [contenteditable=true], [role=listbox]')
    )
      return;
    const thread = threads.find(({ id }) => id === focused);
    const acts: Record<string, () => void> = {
      j: () => go(neighbour(threads, focused, 1)),
      k: () => go(neighbour(threads, focused, -1)),
      q: () => go(neighbouringQuery(threads, focused, event.shiftKey ? -1 : 1)),
      r: () => setReplying(focused),
      d: () => thread && talk.resolve(thread, !thread.resolved),
      Enter: () =>
        (target as HTMLElement).matches('[role=comment]') &&
        onFocus((target as HTMLElement).parentElement!.dataset.note!),
      Escape: onText,
    };
    const act = acts[key.length === 1 ? key.toLowerCase() : key];
    if (!act || (key === 'Enter' && !(target as HTMLElement).matches('[role=comment]'))) return;
    event.preventDefault();
    act();
  };

  const frame = (id: string) => ({
    'data-note': id,
    className: 'talk-note',
    // Not seen until it has its place, but there: a field in it can have the focus at once.
    style: { top: tops.get(id) ?? (id === 'begun' ? begunAt : heights.get(id)), opacity: tops.has(id) ? undefined : 0 },
  });
  return (
    <aside ref={margin} aria-label="Talk margin" className="talk-margin" onKeyDown={onKeyDown}>
      {begun && (
        <div {...frame('begun')}>
          <div className="thread-card begun">
            <div className="serif begun-words">
              {begun.whole
                ? 'On the whole manuscript'
                : begun.quote
                  ? `“${begun.quote.length > 90 ? begun.quote.slice(0, 88) + '…' : begun.quote}”`
                  : 'At this place'}
            </div>
            <Writing
              label="Your comment"
              button="Comment"
              where="new"
              autoFocus
              mayBeAlone
              words={begun.quote || null}
              about={begun.whole ? { whole: true } : { quote: begun.quote, from: begun.from }}
              onSend={talk.keep}
              onLeave={talk.leave}
            />
          </div>
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
              {open ? (
                <OpenThread key={replying === id ? 'replying' : 'open'} thread={thread} replyFocus={replying === id} />
              ) : (
                <CompactThread thread={thread} />
              )}
            </div>
          </div>
        );
      })}
    </aside>
  );
});
