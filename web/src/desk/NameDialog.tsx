import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useState } from 'react';

/** Asks how a new manuscript is called. */
export function NameDialog({
  open,
  onClose,
  onName,
}: {
  open: boolean;
  onClose: () => void;
  onName: (title: string) => void;
}) {
  const [title, setTitle] = useState('');
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (title.trim()) onName(title.trim());
        }}
      >
        <DialogTitle>New manuscript</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            size="small"
            label="Its title"
            sx={{ mt: 1 }}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose} color="inherit">
            Cancel
          </Button>
          <Button type="submit" variant="contained" disabled={!title.trim()}>
            Begin
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
