import { Tooltip } from '@mui/material';
import { useState } from 'react';
import type { Change, Thread } from '@tea-pencil/core';
import { exactly, said } from '../kit/time';
import { CommentView } from './CommentView';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { Writing } from './Writing';

/** What is said about a change, in its slip; a note to oneself about it stands apart. */
export function ChangeTalk({
  change,
  threads,
  writing,
  onLeave,
}: {
  change: Change;
  threads: readonly Thread[];
  writing: boolean;
  onLeave(): void;
}) {
  const { may, nameOf } = useOpened();
  const { talk } = useTalkContext();
  const [began, setBegan] = useState(false);
  const shared = threads.find(({ toSelf }) => !toSelf);
  const own = threads.find(({ toSelf }) => toSelf);
  const part = (thread: Thread) => (
    <div key={thread.id} style={{ marginBottom: 8 }}>
      {thread.toSelf && <div className="thread-kind">to myself</div>}
      {thread.comments.map((comment) => (
        <CommentView key={comment.id} thread={thread} comment={comment} open />
      ))}
      {thread.turned && (
        <Tooltip title={exactly(thread.turned.date)}>
          <div className="second turned">
            {thread.resolved ? 'Resolved' : 'Opened again'} by {nameOf(thread.turned.by)}, {said(thread.turned.date)}
          </div>
        </Tooltip>
      )}
    </div>
  );
  return (
    <>
      {shared && part(shared)}
      {own && part(own)}
      {may.remark && (threads.length > 0 || writing || began) && (
        <Writing
          label={shared ? 'Reply' : 'Your comment on this change'}
          button={shared ? 'Reply' : 'Comment'}
          where={`change ${change.id}`}
          mayBeAlone
          autoFocus={writing && !threads.length}
          onSend={async (written) => {
            await talk.sayOn(change, written);
            setBegan(true);
            onLeave();
          }}
          {...(writing && !threads.length && { onLeave })}
        />
      )}
      {may.remark && shared && (
        <button type="button" className="talk-act" onClick={() => talk.resolve(shared, !shared.resolved)}>
          {shared.resolved ? 'Reopen' : 'Resolve'}
        </button>
      )}
    </>
  );
}
