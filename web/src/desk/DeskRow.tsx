import { Box, Tooltip } from '@mui/material';
import { formatDistanceToNow } from 'date-fns';
import { memo } from 'react';
import { Link } from 'react-router';
import { counted } from '@tea-pencil/core';
import type { DeskLine, FoundLine, HereNow } from '@tea-pencil/wire';
import { roleWords } from '../api/queries';
import type { useTakeBack } from '../kit/use-take-back';
import { useMode } from '../theme/mode';
import { hueOf } from '../theme/hues';
import { RowMenu } from './RowMenu';

const exactly = (date: string) => new Date(date).toLocaleString(undefined, { dateStyle: 'full', timeStyle: 'short' });

/** Where the changes of a manuscript are, by author. */
function Strip({ entry }: { entry: DeskLine }) {
  const { mode } = useMode();
  return (
    <svg
      width="100%"
      height="9"
      preserveAspectRatio="none"
      viewBox="0 0 300 9"
      role="img"
      aria-label={`${counted(entry.pending, 'change')} to decide, along the text`}
    >
      <rect width="300" height="9" rx="2" fill="var(--hairline)" opacity="0.55" />
      {entry.spine.strokes.map(([part, hue]) => (
        <rect key={part} x={(part / entry.spine.parts) * 297} width="2.5" height="9" fill={hueOf(hue, mode).line} />
      ))}
    </svg>
  );
}

interface Props {
  entry: DeskLine;
  me: string;
  /** Who has it open just now. */
  here: HereNow[string];
  /** Where the words that are looked for stand in it. */
  piece: FoundLine['piece'];
  labels: readonly string[];
  sayDone: ReturnType<typeof useTakeBack>;
}

/** A manuscript on the desk, with what waits in it. */
export const DeskRow = memo(function DeskRow({ entry, me, here, piece, labels, sayDone }: Props) {
  const { id, title, note, pending, openThreads, owed, role, touchedAt, touchedBy, touchedByName, sealed } = entry;
  return (
    <Box role="row" className="desk-row desk-line">
      <Box role="cell">
        {/* The whole line leads where its title leads. */}
        <Link to={`/m/${id}`} className="serif desk-title">
          {title}
        </Link>
        <Box className="second">
          {sealed && <span className="desk-sealed">sealed</span>}
          {[note, roleWords[role]].filter(Boolean).join(' · ')}
          {entry.labels.map((label) => (
            <span key={label} className="desk-label">
              {label}
            </span>
          ))}
        </Box>
        {piece && (
          <Box className="desk-piece serif">
            {piece[0]}
            <mark>{piece[1]}</mark>
            {piece[2]}
          </Box>
        )}
      </Box>
      <Box role="cell">
        <Strip entry={entry} />
      </Box>
      <Box role="cell" sx={{ fontWeight: 600, color: pending ? 'secondary.main' : 'text.primary' }}>
        {pending ? `${pending.toLocaleString()} to decide` : 'nothing'}
      </Box>
      <Box role="cell">
        {openThreads ? counted(openThreads, 'open thread') : '—'}
        {owed.map(({ person, name, answers }) => (
          <Box
            key={person}
            className="second"
            sx={{ color: person === me ? 'secondary.main' : undefined, fontWeight: person === me ? 600 : 400 }}
          >
            {person === me ? 'you owe' : `${name} owes`} {counted(answers, 'answer')}
          </Box>
        ))}
      </Box>
      <Box role="cell" sx={{ color: 'text.secondary' }}>
        <Tooltip title={exactly(touchedAt)}>
          <span>
            {touchedBy === me ? 'you' : touchedByName}, {formatDistanceToNow(new Date(touchedAt), { addSuffix: true })}
          </span>
        </Tooltip>
        {here.length > 0 && (
          <Box className="second" sx={{ color: 'text.primary' }}>
            {here.map(({ name }) => name).join(', ')} {here.length > 1 ? 'are' : 'is'} in it now
          </Box>
        )}
      </Box>
      <Box role="cell" sx={{ position: 'relative', textAlign: 'right' }}>
        <RowMenu entry={entry} labels={labels} sayDone={sayDone} />
      </Box>
    </Box>
  );
});
