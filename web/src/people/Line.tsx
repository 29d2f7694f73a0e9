import { Box } from '@mui/material';
import type { ReactNode } from 'react';

interface Props {
  person: string;
  name: string;
  note: string | null;
  /** Whether the person has a hue here. */
  hue?: boolean;
  children: ReactNode;
}

/** Someone, and what can be said of them. */
export function Line({ person, name, note, hue = true, children }: Props) {
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        py: 0.75,
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      {hue && <span className="dot" data-author={person} />}
      <Box sx={{ flex: '1 0 150px' }}>
        {name} <span className="second">{note}</span>
      </Box>
      {children}
    </Box>
  );
}
