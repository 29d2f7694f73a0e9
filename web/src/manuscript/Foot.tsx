import { Box } from '@mui/material';
import type { Node } from 'prosemirror-model';
import type { ManuscriptInfo } from '../api/queries';
import { changesOf } from './changes-of';

/** At the foot of the window: how many changes wait, and whose they are. */
export function Foot({ doc, info }: { doc: Node; info: ManuscriptInfo }) {
  const changes = changesOf(doc);
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
    </Box>
  );
}
