import { Box } from '@mui/material';
import { memo } from 'react';
import { placeNotes } from '@tea-pencil/core';
import type { Tick } from './measure';
import type { MarginNote } from './use-heights';

interface Props {
  ticks: Tick[];
  notes: MarginNote[];
  focused: string | null;
  nameOf(author: string): string;
  /** @param old whether one is at the place that a moved passage has left */
  onFocus(change: string, old: boolean): void;
}

/** Notes are one line or two, as many as their words need. */
const heightOf = (about: string, words: string) =>
  (about ? shortened(about).length * 1.1 + 1 : 0) + words.length > 27 ? 36 : 19;

/** Beside the sheet: a tick in the author's hue for each changed line, and a quiet note where the marks alone say too little. */
export const EditMargin = memo(function EditMargin({ ticks, notes, focused, nameOf, onFocus }: Props) {
  const tops = placeNotes(
    notes.map(({ y, about, words }) => ({ wanted: y, height: heightOf(about, words) })),
    2,
  );
  return (
    <Box component="aside" aria-label="Edit margin" sx={{ position: 'relative', width: '100%' }}>
      {ticks.map(({ key, author, changes, y, height, column }) => (
        <span
          key={key}
          className="tick"
          data-author={author}
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
      {notes.map(({ key, change, author, about, words, old }, i) => (
        <Box
          key={key}
          component="button"
          onClick={() => onFocus(change, old)}
          aria-label={`${nameOf(author)}: ${words}`}
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
          <span className="dot" data-author={author} style={{ width: 7, height: 7 }} />
          {about && <b>{shortened(about)} </b>}
          {words}
        </Box>
      ))}
    </Box>
  );
});

const shortened = (text: string) => (text.length > 24 ? `${text.slice(0, 22)}…` : text);
