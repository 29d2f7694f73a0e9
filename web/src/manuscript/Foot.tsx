import { Box } from '@mui/material';
import { useMemo } from 'react';
import type { Node } from 'prosemirror-model';
import { listChanges } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';

/** At the foot of the window: how many changes wait, and whose they are. */
export function Foot({ doc, info }: { doc: Node; info: ManuscriptInfo }) {
  const changes = useMemo(() => listChanges(doc), [doc]);
  const by = info.people
    .map(({ id, name }) => ({ id, name, n: changes.filter(({ author }) => author === id).length }))
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
    </Box>
  );
}
