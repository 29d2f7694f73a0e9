import { Alert, Box, Typography } from '@mui/material';
import type { FormEvent, ReactNode } from 'react';
import { Pencil } from '../kit/Pencil';
import { textFont } from '../theme/theme';

interface Props {
  title: string;
  says: ReactNode;
  /** What went wrong. */
  problem?: string | null;
  onSubmit?(event: FormEvent): void;
  /** Beside the form. */
  aside?: ReactNode;
  children: ReactNode;
}

/** A page at the door of the house: who has it before them need not be in yet. */
export function DoorPage({ title, says, problem = null, onSubmit, aside, children }: Props) {
  return (
    <Box
      component="main"
      sx={{
        minHeight: '100%',
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr)',
        placeItems: 'center',
        p: 3,
        boxSizing: 'border-box',
      }}
    >
      <Box sx={{ width: aside ? 760 : 400, maxWidth: '100%', display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        <Box component="form" noValidate sx={{ flex: '1 1 280px', minWidth: 0 }} onSubmit={onSubmit}>
          <Pencil size={34} />
          <Typography
            component="h1"
            sx={{ fontFamily: textFont, fontSize: 30, fontWeight: 600, lineHeight: 1.2, mt: 1 }}
          >
            {title}
          </Typography>
          <Typography sx={{ color: 'text.secondary', mt: 0.5, mb: 3 }}>{says}</Typography>
          {problem && (
            <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 2, color: 'text.primary' }}>
              {problem}
            </Alert>
          )}
          {children}
        </Box>
        {aside}
      </Box>
    </Box>
  );
}
