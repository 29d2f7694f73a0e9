import { Box, Button, TextField } from '@mui/material';
import { useState } from 'react';

/** A field for a comment or a reply; what was written stays in it until it is kept. */
export function Writing({
  label,
  button,
  onSend,
  onLeave,
}: {
  label: string;
  button: string;
  onSend(text: string): Promise<void>;
  onLeave?: () => void;
}) {
  const [text, setText] = useState('');
  const [sending, setSending] = useState(false);
  const send = async () => {
    if (!text.trim() || sending) return;
    setSending(true);
    try {
      await onSend(text.trim());
      setText('');
    } catch {
      // what was written stays in the field; the sentence has been shown
    } finally {
      setSending(false);
    }
  };
  return (
    <Box sx={{ mt: 1 }}>
      <TextField
        multiline
        fullWidth
        size="small"
        autoFocus={!!onLeave}
        label={label}
        value={text}
        slotProps={{ htmlInput: { maxLength: 10_000 } }}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void send();
          if (event.key === 'Escape') onLeave?.();
        }}
      />
      {(text || onLeave) && (
        <Box sx={{ mt: 0.75, display: 'flex', gap: 1 }}>
          <Button size="small" variant="contained" disabled={!text.trim() || sending} onClick={() => void send()}>
            {button}
          </Button>
          {onLeave && (
            <Button size="small" color="inherit" onClick={onLeave}>
              Leave it
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}
