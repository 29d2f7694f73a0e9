import { Box, Button } from '@mui/material';
import type { Verdict } from '@tea-pencil/core';

/** Changes that can be decided in one act. */
export interface Group {
  label: string;
  ids: string[];
  /** Whose they are, if they are one person's. */
  author?: string;
}

interface Props {
  groups: Group[];
  onDecide(verdict: Verdict, ids: string[]): void;
}

export function TogetherRows({ groups, onDecide }: Props) {
  return groups.map(({ label, ids, author }) => (
    <Box key={label} role="group" aria-label={label} sx={{ display: 'flex', alignItems: 'center' }}>
      <Box sx={{ flex: 1, color: 'text.secondary', pr: 2 }}>
        {author && <span className="dot" data-author={author} style={{ width: 7, height: 7 }} />}
        {label}
      </Box>
      <Button size="small" color="inherit" onClick={() => onDecide('accept', ids)}>
        Accept {ids.length}
      </Button>
      <Button size="small" color="inherit" onClick={() => onDecide('reject', ids)}>
        Reject {ids.length}
      </Button>
    </Box>
  ));
}
