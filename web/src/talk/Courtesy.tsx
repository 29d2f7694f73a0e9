import { Box, Button } from '@mui/material';
import { useState } from 'react';
import { remarkText, roughness, type Comment, type Rough, type Thread } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { Writing } from './Writing';

interface Found {
  thread: Thread;
  comment: Comment;
  text: string;
  rough: Rough[];
}

/** A comment's words with the places set off that may hurt. */
function Marked({ text, rough }: Pick<Found, 'text' | 'rough'>) {
  const parts: React.ReactNode[] = [];
  let at = 0;
  for (const { from, to } of rough) {
    if (from < at) continue;
    parts.push(text.slice(at, from), <mark key={from}>{text.slice(from, to)}</mark>);
    at = to;
  }
  return (
    <div style={{ whiteSpace: 'pre-wrap' }}>
      {parts}
      {text.slice(at)}
    </div>
  );
}

/** Rereading one's own comments before they go to someone: those that may hurt, why, and a field to say them better. */
export function Courtesy({ threads, onClose }: { threads: readonly Thread[]; onClose(): void }) {
  const {
    info,
    me: { id: me },
    nameOf,
  } = useOpened();
  const { talk, goTo } = useTalkContext();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [wording, setWording] = useState<string | null>(null);
  const mine = threads
    .filter(({ resolved, toSelf }) => !resolved && !toSelf)
    .flatMap((thread) =>
      thread.comments
        .filter(({ author, deleted }) => !deleted && whoIs(info, author) === me)
        .map((comment) => ({ thread, comment })),
    );
  const found: Found[] = mine
    .map(({ thread, comment }) => {
      const text = remarkText(comment.body, nameOf);
      return { thread, comment, text, rough: roughness(text) };
    })
    .filter(({ comment, rough }) => rough.length && !left.has(comment.id));
  return (
    <Box component="main" className="talk-page">
      <div className="talk-head">
        <Box component="h1" sx={{ fontSize: 15, fontWeight: 600, m: 0 }}>
          Reread mine
        </Box>
        <span className="second">
          {found.length
            ? `${found.length} of your ${mine.length} open comments may sound harder than they are meant. It is for you to say; nothing is held back.`
            : `None of your ${mine.length} open comments sounds terse, loud or scolding to these rules.`}
        </span>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </div>
      <div className="talk-list" tabIndex={0} role="region" aria-label="Comments to reread">
        {found.map(({ thread, comment, text, rough }) => (
          <div key={comment.id} className="courtesy" role="group" aria-label={`Your comment “${text.slice(0, 60)}”`}>
            <button type="button" className="talk-row-place" onClick={() => goTo(thread.id)}>
              <span className="second serif">
                {thread.whole ? 'On the whole manuscript' : thread.quote ? `“${thread.quote}”` : 'At a place'}
              </span>
            </button>
            {wording === comment.id ? (
              <Writing
                label="Said better"
                button="Keep"
                where={`edit ${comment.id}`}
                initial={comment.body}
                plain
                autoFocus
                onSend={async ({ body }) => {
                  await talk.edit(thread.id, comment.id, body);
                  setWording(null);
                }}
                onLeave={() => setWording(null)}
              />
            ) : (
              <>
                <Marked text={text} rough={rough} />
                <ul>
                  {[...new Set(rough.map(({ kind, why }) => `${kind}: ${why}`))].map((why) => (
                    <li key={why}>{why}</li>
                  ))}
                </ul>
                <button type="button" className="talk-act chief" onClick={() => setWording(comment.id)}>
                  Reword
                </button>
                <button type="button" className="talk-act" onClick={() => setLeft(new Set([...left, comment.id]))}>
                  Leave as it is
                </button>
              </>
            )}
          </div>
        ))}
      </div>
    </Box>
  );
}
