import { Box, Button, Tooltip } from '@mui/material';
import { memo, useLayoutEffect, useRef, useState } from 'react';
import { placeNotes, type Thread } from '@tea-pencil/core';
import type { Colleague } from '../api/queries';
import { exactly, said } from '../manuscript/time';
import { Writing } from './Writing';

interface Props {
  threads: readonly Thread[];
  /** Where the words of a thread begin, in pixels from the top of the margin; of those that have gone nothing. */
  heights: ReadonlyMap<string, number>;
  people: readonly Colleague[];
  focused: string | null;
  mayRemark: boolean;
  /** A comment being begun beside these words, if one is. */
  begun: string | null;
  begunAt: number;
  onFocus(thread: string | null): void;
  onBegin(text: string): Promise<void>;
  onLeave(): void;
  onReply(thread: string, text: string): Promise<void>;
  onResolve(thread: string, resolved: boolean): void;
}

/** Threads of comments beside the words they are about, as near as they can stand without overlapping. */
export const TalkMargin = memo(function TalkMargin({
  threads,
  heights,
  people,
  focused,
  mayRemark,
  begun,
  begunAt,
  onFocus,
  onBegin,
  onLeave,
  onReply,
  onResolve,
}: Props) {
  const nameOf = (id: string) => people.find((person) => person.id === id)?.name ?? 'Someone';
  const margin = useRef<HTMLDivElement>(null);
  const [tops, setTops] = useState<ReadonlyMap<string, number>>(new Map());
  const bottom = Math.max(0, ...heights.values()) + 40;
  const wanted = [
    ...threads.map(({ id }) => `${Math.round(heights.get(id) ?? bottom)} ${id}`),
    ...(begun !== null ? [`${Math.round(begunAt)} begun`] : []),
  ]
    .sort((a, b) => parseInt(a) - parseInt(b))
    .join('\n');

  const front = begun !== null ? 'begun' : focused;

  // Heights are known only once drawn, so the notes are placed after each drawing and whenever one grows.
  useLayoutEffect(() => {
    const notes = wanted.split('\n').map((line) => line.split(' ') as [string, string]);
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
      setTops(new Map(notes.map(([, id], i) => [id, placed[i]!])));
    };
    const growing = new ResizeObserver(place);
    drawn.forEach((note) => growing.observe(note));
    place();
    return () => growing.disconnect();
  }, [wanted, front]);

  const frame = (id: string) => ({
    'data-note': id,
    style: {
      position: 'absolute' as const,
      top: tops.get(id) ?? 0,
      left: 0,
      right: 0,
      visibility: tops.has(id) ? undefined : ('hidden' as const),
    },
  });

  return (
    <Box component="aside" ref={margin} aria-label="Talk margin" sx={{ position: 'relative', width: '100%' }}>
      {begun !== null && (
        <div {...frame('begun')}>
          <Box sx={{ bgcolor: 'background.paper', border: '1px solid', borderColor: 'primary.main', p: 1.5 }}>
            <Box className="serif" sx={{ fontStyle: 'italic', color: 'text.secondary', fontSize: 13.5 }}>
              “{begun.length > 90 ? begun.slice(0, 88) + '…' : begun}”
            </Box>
            <Writing label="Your comment" button="Comment" onSend={onBegin} onLeave={onLeave} />
          </Box>
        </div>
      )}
      {threads.map((thread) => {
        const open = focused === thread.id;
        return (
          <div key={thread.id} {...frame(thread.id)}>
            <Box
              component="section"
              tabIndex={0}
              aria-label={`Thread by ${nameOf(thread.comments[0]?.author ?? '')} on “${thread.quote}”`}
              onClick={() => onFocus(thread.id)}
              onFocus={() => onFocus(thread.id)}
              sx={{
                p: open ? 1.75 : '2px 0',
                bgcolor: open ? 'background.paper' : undefined,
                border: '1px solid',
                borderColor: open ? 'divider' : 'transparent',
                cursor: 'default',
                '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
              }}
            >
              {(!heights.has(thread.id) || thread.change !== undefined) && (
                <Box className="second" sx={{ mb: 0.5 }}>
                  {thread.change === undefined
                    ? 'Its words have gone: '
                    : heights.has(thread.id)
                      ? 'On a change: '
                      : 'On a change that has been decided: '}
                  <i className="serif">“{thread.quote}”</i>
                </Box>
              )}
              {thread.comments.map((comment, i) => (
                <Box
                  key={comment.id}
                  sx={{
                    ...(i > 0 && {
                      borderTop: open ? '1px solid' : 0,
                      borderColor: 'divider',
                      pt: open ? 1 : 0.25,
                      mt: open ? 1 : 0.25,
                    }),
                  }}
                >
                  <Box sx={{ display: 'flex', alignItems: 'baseline' }}>
                    <span className="dot" data-author={comment.author} style={{ alignSelf: 'center' }} />
                    <strong>{nameOf(comment.author)}</strong>
                    <Tooltip title={exactly(comment.date)}>
                      <Box component="span" className="second" sx={{ ml: 1 }}>
                        {said(comment.date)}
                      </Box>
                    </Tooltip>
                  </Box>
                  <Box
                    sx={{
                      whiteSpace: 'pre-wrap',
                      overflowWrap: 'anywhere',
                      ...(!open && {
                        display: '-webkit-box',
                        WebkitLineClamp: 3,
                        WebkitBoxOrient: 'vertical',
                        overflow: 'hidden',
                      }),
                    }}
                  >
                    {comment.text}
                  </Box>
                </Box>
              ))}
              {open && mayRemark && (
                <>
                  <Writing label="Reply" button="Reply" onSend={(text) => onReply(thread.id, text)} />
                  <Button
                    size="small"
                    color="inherit"
                    sx={{ mt: 0.75, ml: -1, color: 'text.secondary' }}
                    onClick={() => onResolve(thread.id, !thread.resolved)}
                  >
                    {thread.resolved ? 'Reopen' : 'Resolve'}
                  </Button>
                </>
              )}
            </Box>
          </div>
        );
      })}
    </Box>
  );
});
