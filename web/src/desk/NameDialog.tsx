import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';

interface Props {
  title: string;
  value?: string;
  button: string;
  onClose(): void;
  onName(title: string): void;
  /** What else is asked. */
  children?: ReactNode;
}

/** Asks how a manuscript is called. */
export function NameDialog({ title, value = '', button, onClose, onName, children }: Props) {
  const [typed, setTyped] = useState(value);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim()) onName(typed.trim());
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            size="small"
            label="Its title"
            sx={{ mt: 1 }}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          {children}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose} color="inherit">
            Cancel
          </Button>
          <Button type="submit" variant="contained" disabled={!typed.trim()}>
            {button}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
