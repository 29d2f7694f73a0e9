import { Fragment } from 'react';
import { isUnseen, lastWords, type Change, type Piece } from '@tea-pencil/core';
import { GridPicture } from './GridPicture';

interface Props {
  pieces: readonly Piece[];
  side: 'before' | 'after';
  /** What it is a side of. */
  change: Pick<Change, 'kind' | 'grid'>;
  /** How many letters of the sentence stand before what differs, at most. */
  lead?: number;
}

/** How words that differ are drawn; what would not be seen by itself, a space say, is framed, as in the text. */
export const changedLook = (text: string, side: 'before' | 'after'): string =>
  `piece-changed-${side}${isUnseen(text) ? ' piece-space' : ''}`;

/** One side of a change in its sentence, with the difference set off. */
export function Pieces({ pieces, side, change, lead = Infinity }: Props) {
  const { kind, grid } = change;
  if (grid) return <GridPicture grid={grid} side={side} />;
  const first = pieces.findIndex(({ changed }) => changed);
  // What changes its look only is not struck out.
  const plain = side === 'before' && (kind === 'formatting' || kind === 'paragraph');
  if (!pieces.some(({ text }) => text)) return <span className="second">nothing</span>;
  return pieces.map(({ text, changed }, i) => {
    // Drawn so that it can be cut off at its beginning (the space behind it not); what differs stays to be seen.
    if (i < first) {
      const words = lastWords(text, lead);
      return (
        <Fragment key={i}>
          <span className="piece-lead">
            <bdi>{words.trimEnd()}</bdi>
          </span>
          {words.slice(words.trimEnd().length)}
        </Fragment>
      );
    }
    return (
      <span key={i} className={changed && text && !plain ? changedLook(text, side) : undefined}>
        {text}
      </span>
    );
  });
}
