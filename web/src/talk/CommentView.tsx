import { Tooltip } from '@mui/material';
import { useState } from 'react';
import { isBlank, type Comment, type Thread } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { exactly, said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { RemarkView } from './RemarkView';
import { Writing } from './Writing';

interface Props {
  thread: Thread;
  comment: Comment;
  /** Whether what can be done with it is offered. */
  open: boolean;
}

/** One comment: who, when, what; what it asks and proposes; and for its author changing and deleting it. */
export function CommentView({ thread, comment, open }: Props) {
  const {
    info,
    me: { id: me },
    nameOf,
    may,
  } = useOpened();
  const { talk } = useTalkContext();
  const [changing, setChanging] = useState(false);
  const { id, author, date, body, edited, deleted, query, proposal } = comment;
  const name = nameOf(author);
  const own = whoIs(info, author) === me;
  if (deleted)
    return (
      <div className="comment second">
        <span className="dot" data-author={author} />
        {name} deleted what stood here.
      </div>
    );
  return (
    <div className="comment">
      <div className="comment-head">
        <span className="dot" data-author={author} />
        <strong>{name}</strong>
        <Tooltip title={exactly(date)}>
          <span className="second">{said(date)}</span>
        </Tooltip>
        {edited && (
          <Tooltip title={`Changed ${exactly(edited)}`}>
            <span className="second">edited</span>
          </Tooltip>
        )}
        {query && <Query thread={thread} comment={comment} />}
      </div>
      {changing ? (
        <Writing
          label="What it says instead"
          button="Keep"
          where={`edit ${id}`}
          initial={body}
          plain
          autoFocus
          alone={!!thread.toSelf}
          onSend={async ({ body: now }) => {
            await talk.edit(thread.id, id, now);
            setChanging(false);
          }}
          onLeave={() => setChanging(false)}
        />
      ) : (
        !isBlank(body) && <RemarkView remark={body} nameOf={nameOf} />
      )}
      {open && own && may.remark && !changing && (
        <div className="comment-acts">
          <button type="button" className="talk-act" onClick={() => setChanging(true)}>
            Edit
          </button>
          <button type="button" className="talk-act" onClick={() => talk.remove(thread.id, id)}>
            Delete
          </button>
        </div>
      )}
      {proposal && <Proposal thread={thread} comment={comment} open={open} />}
    </div>
  );
}

/** Whom a comment asks, while they owe an answer and after. */
function Query({ thread, comment }: { thread: Thread; comment: Comment }) {
  const {
    info,
    me: { id: me },
    nameOf,
    may,
  } = useOpened();
  const { talk } = useTalkContext();
  const { to, settled } = comment.query!;
  const whom = whoIs(info, to) === me ? 'you' : nameOf(to).split(' ')[0]!;
  if (settled || thread.resolved)
    return (
      <Tooltip title={settled ? `${nameOf(settled.by)}, ${exactly(settled.date)}` : 'The thread is resolved'}>
        <span className="query answered">asked {whom}</span>
      </Tooltip>
    );
  const mayAnswer = [comment.author, to].some((id) => whoIs(info, id) === me) || may.settle;
  return mayAnswer ? (
    <Tooltip title="Waits for an answer. Click it when none is needed any more.">
      <button
        type="button"
        className="query"
        onClick={(event) => {
          event.stopPropagation();
          talk.answered(thread.id, comment.id);
        }}
      >
        query to {whom}
      </button>
    </Tooltip>
  ) : (
    <span className="query">query to {whom}</span>
  );
}

/** Proposed wording, and what became of it. */
function Proposal({ thread, comment, open }: Props) {
  const { may, nameOf } = useOpened();
  const { talk, lost } = useTalkContext();
  const { words, made } = comment.proposal!;
  return (
    <div className="proposal">
      <div className="serif proposal-words" data-author={comment.author}>
        {words || <i>without these words</i>}
      </div>
      {made ? (
        <span className="second">
          Made a change by {nameOf(made.by)}, {said(made.date)}
        </span>
      ) : (
        open &&
        may.write &&
        !lost.has(thread.id) && (
          <Tooltip
            title={`The words become this, as a pending change of yours that ${nameOf(comment.author)} has proposed; the thread is resolved`}
          >
            <button type="button" className="talk-act chief" onClick={() => talk.makeChange(thread.id, comment.id)}>
              Make it a change
            </button>
          </Tooltip>
        )
      )}
    </div>
  );
}
