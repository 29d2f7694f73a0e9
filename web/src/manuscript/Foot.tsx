import { Box } from '@mui/material';
import type { EditorState } from 'prosemirror-state';
import type { Verdict } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';
import { changesOf } from './changes-of';
import { DecideTogether } from './DecideTogether';

interface Props {
  state: EditorState;
  info: ManuscriptInfo;
  mayDecide: boolean;
  onDecide(verdict: Verdict, ids: string[]): void;
}

/** At the foot of the window: how many changes wait, and whose they are. */
export function Foot({ state, info, mayDecide, onDecide }: Props) {
  const changes = changesOf(state.doc);
  const counts = new Map<string, number>();
  for (const { author } of changes) counts.set(author, (counts.get(author) ?? 0) + 1);
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
      {mayDecide && <DecideTogether state={state} info={info} onDecide={onDecide} />}
    </Box>
  );
}
