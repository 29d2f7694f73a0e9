import { Button, LinearProgress } from '@mui/material';
import { Fragment, useMemo, useState } from 'react';
import { counted, type LinePiece } from '@tea-pencil/core';
import type { InkPiece } from '@tea-pencil/wire';
import { useInk } from '../api/drafts';
import { Message } from '../kit/Message';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { changedLook } from '../reviewing/Pieces';
import { useLayingDown } from './LayDown';

/** What was done in ink, piece by piece: who, when, and what it read before and after. */
export function InkPieces() {
  const { info, nameOf } = useOpened();
  const ink = useInk(info.id);
  const [who, setWho] = useState<string | null>(null);
  const people = useMemo(() => [...new Set((ink.data ?? []).map(({ author }) => author))], [ink.data]);
  if (ink.isPending) return <LinearProgress aria-label="What was done in ink is being read" />;
  if (ink.isError)
    return <Message title="The ink cannot be shown" text={ink.error.message} again={() => void ink.refetch()} />;
  if (!ink.data.length)
    return <p className="second ink-none">Nobody has written in ink here. What goes in unrecorded is listed here.</p>;
  const shown = ink.data.filter(({ author }) => who === null || author === who);
  return (
    <div className="ink-pieces" tabIndex={0} role="region" aria-label="What was done in ink">
      {people.length > 1 && (
        <div role="group" aria-label="By whom" className="tabs">
          <button type="button" className="tab" aria-pressed={who === null} onClick={() => setWho(null)}>
            everyone
          </button>
          {people.map((person) => (
            <button
              key={person}
              type="button"
              className="tab"
              aria-pressed={who === person}
              onClick={() => setWho(person)}
            >
              {nameOf(person)}
            </button>
          ))}
        </div>
      )}
      {shown.map((piece) => (
        <Piece key={piece.from} piece={piece} />
      ))}
    </div>
  );
}

/** A piece of a sentence with an edit. */
function drawn({ text, is }: LinePiece, i: number) {
  if (is === 'same') return <Fragment key={i}>{text}</Fragment>;
  const As = is === 'gone' ? 'del' : is === 'come' ? 'ins' : 'span';
  return (
    <As key={i} className={changedLook(text, is === 'gone' ? 'before' : 'after')}>
      {text}
    </As>
  );
}

function Piece({ piece }: { piece: InkPiece }) {
  const { may, nameOf } = useOpened();
  const lay = useLayingDown();
  const { from, author, at, edits, many, laidDown } = piece;
  return (
    <section className="ink-piece" data-author={author} aria-label={`Ink by ${nameOf(author)}, ${said(at)}`}>
      <header>
        <strong>{nameOf(author)}</strong>
        <span className="second">
          {said(at)} · {counted(many, 'edit')}
        </span>
        <span className="drafts-space" />
        {laidDown ? (
          <span className="second">laid down in pencil</span>
        ) : (
          may.decide && (
            <Button
              color="inherit"
              variant="outlined"
              size="small"
              loading={lay.isPending}
              onClick={() => lay.mutate([from])}
            >
              Lay down in pencil
            </Button>
          )
        )}
      </header>
      <ul>
        {edits.map(({ says, words }, i) => (
          <li key={i}>
            <span className="second">{says}</span>
            <span className="serif ink-words">{words.map(drawn)}</span>
          </li>
        ))}
        {many > edits.length && <li className="second">… and {counted(many - edits.length, 'edit')} more</li>}
      </ul>
    </section>
  );
}
