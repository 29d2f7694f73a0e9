import { Tooltip } from '@mui/material';
import { useState } from 'react';
import { openQueries, tints, type Comment, type Thread, counted } from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { exactly, said } from '../kit/time';
import { CommentView } from './CommentView';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';
import { RemarkView } from './RemarkView';
import { Writing } from './Writing';

/** Of longer threads the middle is folded. */
const most = 5;
const shownFirst = 1;
const shownLast = 2;

/** What a thread is about, where its words do not say so beside it. */
function About({ thread, open }: { thread: Thread; open: boolean }) {
  const { lost, wordsNow } = useTalkContext();
  const { change, whole, quote, toSelf } = thread;
  const gone = lost.has(thread.id);
  const short = quote.length > 140 ? `${quote.slice(0, 138)}…` : quote;
  const now = open && !gone && !whole && change === undefined && quote ? wordsNow(thread) : null;
  const words = <i className="serif">“{short}”</i>;
  return (
    <>
      {toSelf && <div className="thread-kind">to myself</div>}
      {whole && <div className="second">On the whole manuscript</div>}
      {change !== undefined && <div className="second">On a change: {words}</div>}
      {gone &&
        (quote ? (
          <div className="second">Its words have gone: {words}</div>
        ) : (
          <div className="second">At a place without words</div>
        ))}
      {now !== null && now !== quote && (
        <div className="second">
          Then: {words} · Now: <i className="serif">“{now.length > 140 ? `${now.slice(0, 138)}…` : now}”</i>
        </div>
      )}
    </>
  );
}

/** The comments of a thread; the middle of a long one only when asked for. */
function Comments({ thread, open }: { thread: Thread; open: boolean }) {
  const { comments } = thread;
  const [all, setAll] = useState(false);
  const folded = comments.length > most && !all ? comments.length - shownFirst - shownLast : 0;
  const shown: (Comment | null)[] = folded
    ? [...comments.slice(0, shownFirst), null, ...comments.slice(-shownLast)]
    : [...comments];
  return shown.map((comment) =>
    comment ? (
      <CommentView key={comment.id} thread={thread} comment={comment} open={open} />
    ) : (
      <button key="folded" type="button" className="talk-act folded" onClick={() => setAll(true)}>
        {folded} more between
      </button>
    ),
  );
}

/**
 * A thread in few words: who began it, the first lines, how much follows.
 * @param bare where what it is about stands beside it
 */
export function CompactThread({ thread, bare = false }: { thread: Thread; bare?: boolean }) {
  const {
    info,
    me: { id: me },
    nameOf,
  } = useOpened();
  const { comments, author, date, tint } = thread;
  const first = comments.find(({ deleted }) => !deleted);
  const queries = openQueries(thread);
  const toMe = queries.some(({ query }) => whoIs(info, query.to) === me);
  const whom = queries[0] && (toMe ? 'you' : nameOf(queries[0].query.to).split(' ')[0]);
  const more = comments.length - 1;
  return (
    <>
      {!bare && <About thread={thread} open={false} />}
      <div className="comment-head">
        <span className="dot" data-author={first?.author ?? author} />
        <strong>{nameOf(first?.author ?? author)}</strong>
        <span className="second">{said(first?.date ?? date)}</span>
        {whom && <span className="query">query to {whom}</span>}
      </div>
      {first ? (
        <div className="compact-words">
          <RemarkView remark={first.body} nameOf={nameOf} />
        </div>
      ) : (
        tint && <div className="second">highlighted</div>
      )}
      {first?.proposal && (
        <div className="second compact-words">
          proposes <span className="serif">“{first.proposal.words}”</span>
        </div>
      )}
      {more > 0 && (
        <div className="second">
          {counted(more, 'answer')}, the last by {nameOf(comments.at(-1)!.author)}
        </div>
      )}
    </>
  );
}

/** A thread with all that is said in it and all that can be done with it. */
export function OpenThread({ thread, replyFocus = false }: { thread: Thread; replyFocus?: boolean }) {
  const {
    info,
    me: { id: me },
    nameOf,
    may,
  } = useOpened();
  const { talk, lost, wordsNow } = useTalkContext();
  const { id, comments, resolved, turned, tint, author } = thread;
  const bringable = lost.has(id) && may.remark;
  const mayTint = tint && (whoIs(info, author) === me || may.settle);
  return (
    <>
      <About thread={thread} open />
      {!comments.length && (
        <div className="comment-head">
          <span className="dot" data-author={author} />
          <strong>{nameOf(author)}</strong>
          <span className="second">highlighted this, {said(thread.date)}</span>
        </div>
      )}
      <Comments thread={thread} open />
      {turned && (
        <Tooltip title={exactly(turned.date)}>
          <div className="second turned">
            {resolved ? 'Resolved' : 'Opened again'} by {nameOf(turned.by)}, {said(turned.date)}
          </div>
        </Tooltip>
      )}
      {may.remark && (
        <>
          <Writing
            label={comments.length ? 'Reply' : 'Say something about it'}
            button={comments.length ? 'Reply' : 'Comment'}
            where={id}
            alone={!!thread.toSelf}
            autoFocus={replyFocus}
            words={thread.change === undefined && !thread.whole && !lost.has(id) ? wordsNow(thread) : null}
            onSend={(written) => talk.reply(id, written)}
          />
          <div className="thread-acts">
            <button type="button" className="talk-act" onClick={() => talk.resolve(thread, !resolved)}>
              {resolved ? 'Reopen' : !comments.length ? 'Clear' : 'Resolve'}
            </button>
            {bringable && (
              <Tooltip title="The thread is then about the words that are selected in the text">
                <button type="button" className="talk-act" onClick={() => void talk.bringBack(id)}>
                  Bring to the selection
                </button>
              </Tooltip>
            )}
            <span style={{ flex: 1 }} />
            {mayTint &&
              tints.map((one) => (
                <button
                  key={one}
                  type="button"
                  className={`tint-choice tint-${one}`}
                  aria-label={`Highlight in ${one}`}
                  title={`Highlight in ${one}`}
                  aria-pressed={tint === one}
                  onClick={() => talk.setTint(id, one)}
                />
              ))}
          </div>
        </>
      )}
    </>
  );
}
