import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';

const groups: [title: string, keys: [key: string, what: string][]][] = [
  [
    'Anywhere',
    [
      ['F2', 'pencil or ink; with Shift, ink for one edit'],
      ['F3', 'find and replace'],
      ['F4', 'comment on the selection; with Shift, into the talk margin and back'],
      ['F8', 'from the text into the read-through and back'],
      ['F9', 'see all that reading and lens leave unseen, and back'],
      ['?', 'these keys, where nothing is being written'],
    ],
  ],
  [
    'In the read-through',
    [
      ['J  K', 'next and previous change'],
      ['Y  N', 'accept, reject, and on'],
      ['S', 'skip'],
      ['U', 'take the last decision back'],
      ['C', 'comment without leaving'],
      ['Q', 'next open query; with Shift, the one before'],
      ['L', 'the lens'],
      ['1  2  3', 'readings: marked, fair, before'],
      ['Esc', 'to the text'],
    ],
  ],
  [
    'In the talk margin',
    [
      ['J  K', 'next and previous thread'],
      ['Q', 'next query; with Shift, the one before'],
      ['R', 'reply'],
      ['D', 'resolve, or reopen'],
      ['Esc', 'to the text'],
    ],
  ],
];

/** All keys, each with what it does. */
export function Keys({ open, onClose }: { open: boolean; onClose(): void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="md" fullWidth transitionDuration={0}>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent sx={{ display: 'flex', gap: 4 }}>
        {groups.map(([title, keys]) => (
          <Box key={title} sx={{ flex: 1 }}>
            <Box sx={{ fontWeight: 600, mb: 1 }}>{title}</Box>
            {keys.map(([key, what]) => (
              <Box key={key} sx={{ display: 'flex', gap: 1.5, py: 0.4 }}>
                <Box component="kbd" sx={{ width: 56, flex: 'none', font: 'inherit', fontWeight: 600 }}>
                  {key}
                </Box>
                <span>{what}</span>
              </Box>
            ))}
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
