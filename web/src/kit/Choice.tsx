import { Box, Button, Tooltip } from '@mui/material';
import type { ReactNode } from 'react';

/** Something that can be chosen or not, beside others. */
export function Choice({
  chosen,
  title,
  onChoose,
  children,
}: {
  chosen: boolean;
  title?: string;
  onChoose(): void;
  children: ReactNode;
}) {
  const button = (
    <Button
      color="inherit"
      aria-pressed={chosen}
      onClick={onChoose}
      sx={{
        px: 1,
        py: 0.25,
        fontWeight: 400,
        border: '1px solid',
        borderColor: chosen ? 'primary.main' : 'divider',
        // A heavier frame and not heavier letters: what stands beside it stays where it is.
        boxShadow: chosen ? 'inset 0 0 0 1px currentColor' : 'none',
        color: chosen ? 'primary.main' : 'text.primary',
      }}
    >
      {children}
    </Button>
  );
  return title ? <Tooltip title={title}>{button}</Tooltip> : button;
}

/** A row of choices under one word. */
export function Choices({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', gap: 1, py: 0.5 }}>
      <Box sx={{ width: 74, flex: 'none', color: 'text.secondary', fontSize: 12, pt: 0.6 }}>{label}</Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, minWidth: 0 }}>{children}</Box>
    </Box>
  );
}
