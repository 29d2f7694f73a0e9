import { Box } from '@mui/material';
import { memo } from 'react';
import { placeNotes, counted } from '@tea-pencil/core';
import { useOpened } from '../../opened/opened';
import type { Tick } from './measure';
import type { Fold, MarginNote } from './use-heights';

interface Props {
  ticks: Tick[];
  notes: MarginNote[];
  focused: string | null;
  /** @param old whether one is at the place that a moved passage has left */
  onFocus(change: string, old: boolean): void;
  folds: Fold[];
  onUnfold(changes: string[]): void;
}

/** Notes are one line or two, as many as their words need. */
const heightOf = (about: string, words: string) =>
  (about ? shortened(about).length * 1.1 + 1 : 0) + words.length > 27 ? 36 : 19;

/** Beside the sheet: a tick in the author's hue for each changed line, and a quiet note where the marks alone say too little. */
export const EditMargin = memo(function EditMargin(props: Props) {
  const { ticks, notes, folds, focused, onFocus, onUnfold } = props;
  const { nameOf } = useOpened();
  const tops = placeNotes(
    notes.map(({ y, about, words, change }) => ({
      wanted: y,
      height: heightOf(about, words),
      weight: change === focused ? 100 : 1,
    })),
    2,
  );
  return (
    <Box component="aside" aria-label="Edit margin" sx={{ position: 'relative', width: '100%' }}>
      {ticks.map(({ key, author, kind, changes, y, height, column }) => (
        <span
          key={key}
          className="tick"
          data-author={author}
          data-kind={kind}
          aria-hidden
          style={{
            position: 'absolute',
            right: 3 + column * 6,
            top: y,
            height,
            width: changes.includes(focused ?? '') ? 6 : 3.5,
            borderRadius: 2,
            background: 'var(--line)',
          }}
        />
      ))}
      {folds.map(({ y, changes }) => (
        <button
          key={changes[0]}
          type="button"
          className="fold"
          style={{ top: y }}
          title="Folded changes of this line; click to see them"
          aria-label={counted(changes.length, 'folded change')}
          onClick={() => onUnfold(changes)}
        >
          {changes.length}
        </button>
      ))}
      {notes.map(({ key, change, kind, author, about, words, old }, i) => (
        <Box
          key={key}
          component="button"
          className={`margin-note ${atSide(words) ? `at-side is-${words}` : ''}`}
          data-author={author}
          onClick={() => onFocus(change, old)}
          aria-label={`${nameOf(author)}: ${words} ${about}`.trim()}
          sx={{
            position: 'absolute',
            top: tops[i],
            right: 18,
            width: 172,
            maxHeight: 36,
            overflow: 'hidden',
            p: 0,
            border: 0,
            background: 'none',
            font: 'inherit',
            fontSize: 12,
            lineHeight: 1.35,
            textAlign: 'right',
            color: focused === change ? 'text.primary' : 'text.secondary',
            cursor: 'pointer',
          }}
        >
          <span className="dot" data-author={author} data-kind={kind} style={{ width: 7, height: 7 }} />
          {atSide(words) && `${words} `}
          {about && <b className={atSide(words) ? `serif side-${words}` : undefined}>{shortened(about)} </b>}
          {!atSide(words) && words}
        </Box>
      ))}
    </Box>
  );
});

/** Whether a note holds words that are at the side of the text. */
const atSide = (words: string) => words === 'removed' || words === 'added';

const shortened = (text: string) => (text.length > 24 ? `${text.slice(0, 22)}…` : text);
