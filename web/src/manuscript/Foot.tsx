import { Box } from '@mui/material';
import type { Change, Verdict } from '@tea-pencil/core';
import { whoIs, type ManuscriptInfo } from '../api/queries';
import type { LiveText } from '../live/live-text';
import { DecideTogether } from './DecideTogether';

interface Props {
  text: LiveText;
  changes: readonly Change[];
  info: ManuscriptInfo;
  mayDecide: boolean;
  onDecide(verdict: Verdict, ids: string[]): void;
}

/** At the foot of the window: how many changes wait, and whose they are. */
export function Foot({ text, changes, info, mayDecide, onDecide }: Props) {
  const counts = new Map<string, number>();
  for (const { author } of changes) {
    const person = whoIs(info, author);
    counts.set(person, (counts.get(person) ?? 0) + 1);
  }
  const by = info.people
    .map(({ id, name }) => ({ id, name, n: counts.get(id) ?? 0 }))
    .filter(({ n }) => n)
    .sort((a, b) => b.n - a.n);
  return (
    <Box
      component="footer"
      sx={{
        height: 44,
        flex: 'none',
        display: 'flex',
        alignItems: 'center',
        gap: 3,
        px: 2,
        bgcolor: 'background.paper',
        borderTop: '1px solid',
        borderColor: 'divider',
      }}
    >
      <span>
        <strong data-testid="pending">{changes.length}</strong> to decide
      </span>
      <Box className="second" sx={{ display: 'flex', gap: 2 }}>
        {by.map(({ id, name, n }) => (
          <span key={id}>
            <span className="dot" data-author={id} style={{ width: 7, height: 7 }} />
            {name} {n}
          </span>
        ))}
      </Box>
      <Box sx={{ flex: 1 }} />
      {mayDecide && <DecideTogether text={text} none={!changes.length} info={info} onDecide={onDecide} />}
    </Box>
  );
}
