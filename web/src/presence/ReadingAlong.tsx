import { Box } from '@mui/material';
import { useStore } from '../kit/store';
import { useOpened } from '../opened/opened';
import { useReadAlong } from './use-read-along';

/** Says whom one reads along with, for as long as it lasts. */
export function ReadingAlong() {
  const { along, nameOf } = useOpened();
  const person = useStore(along);
  useReadAlong();
  if (!person) return null;
  return (
    <Box
      role="status"
      data-author={person}
      sx={{
        position: 'fixed',
        bottom: 64,
        left: '50%',
        transform: 'translateX(-50%)',
        zIndex: 20,
        px: 2,
        py: 0.75,
        bgcolor: 'background.paper',
        border: '1px solid',
        borderColor: 'var(--line, var(--graphite))',
        borderRadius: 1,
        boxShadow: '0 6px 20px rgb(0 0 0 / 12%)',
        fontSize: 13,
      }}
    >
      You read along with {nameOf(person)}. Escape, or anything you do, ends it.
    </Box>
  );
}
