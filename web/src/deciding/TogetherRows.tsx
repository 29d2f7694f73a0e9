import { Box, Button } from '@mui/material';
import type { Verdict } from '@tea-pencil/core';

/** Changes that can be decided in one act. */
export interface Group {
  label: string;
  ids: string[];
  /** Whose they are, if they are one person's. */
  author?: string;
  /** Whether they are one edit made in several places. */
  alike?: boolean;
}

interface Props {
  groups: Group[];
  onDecide(verdict: Verdict, ids: string[]): void;
  onAlike?(): void;
}

/** A line for each group, with both decisions about all of it. */
export function TogetherRows({ groups, onDecide, onAlike }: Props) {
  return groups.map(({ label, ids, author, alike }) => (
    <Box key={label} role="group" aria-label={label} sx={{ display: 'flex', alignItems: 'center' }}>
      <Box sx={{ flex: 1, color: 'text.secondary', pr: 2 }}>
        {author && <span className="dot" data-author={author} style={{ width: 7, height: 7 }} />}
        {label}
      </Box>
      {alike && onAlike && (
        <Button size="small" color="inherit" onClick={onAlike} sx={{ color: 'text.secondary' }}>
          Look at these
        </Button>
      )}
      <Button size="small" color="inherit" onClick={() => onDecide('accept', ids)}>
        Accept {ids.length}
      </Button>
      <Button size="small" color="inherit" onClick={() => onDecide('reject', ids)}>
        Reject {ids.length}
      </Button>
    </Box>
  ));
}
