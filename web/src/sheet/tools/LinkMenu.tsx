import { Box, Button, Popover, TextField, Tooltip } from '@mui/material';
import type { Command } from 'prosemirror-state';
import { useState } from 'react';
import { isSafeAddress, linkAt, setLink } from '@tea-pencil/core';
import { usePop } from '../../kit/focus';
import { useOpened } from '../../opened/opened';

/** What someone types as an address, with the scheme that they left out. */
function completed(typed: string): string {
  const address = typed.trim();
  if (isSafeAddress(address)) return address;
  return /^[^\s@]+@[^\s@]+$/.test(address) ? `mailto:${address}` : `https://${address}`;
}

/** Makes a link of the selected words, changes one or takes it away. */
export function LinkMenu({ disabled }: { disabled: boolean }) {
  const { sheet, edit, toText } = useOpened();
  const { open, close, props, transition } = usePop();
  const [address, setAddress] = useState('');
  const [href, setHref] = useState<string | null>(null);
  const wrong = /^[a-z][\w+.-]*:/i.test(address.trim()) && !isSafeAddress(address) && !/^[\w.-]+:\d/.test(address);
  const act = (command: Command) =>
    close(() => {
      edit(command);
      toText();
    });
  return (
    <>
      <Tooltip title="Make a link of the selected words, change it or take it away">
        <span>
          <Button
            color="inherit"
            aria-haspopup="dialog"
            disabled={disabled}
            onClick={(event) => {
              const { view } = sheet.get();
              const words = view && linkAt(view.state);
              setHref(words?.href ?? null);
              setAddress(words?.href ?? '');
              open(event);
            }}
            sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}
          >
            Link
          </Button>
        </span>
      </Tooltip>
      <Popover
        {...props}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ transition, paper: { role: 'dialog', 'aria-label': 'Link' } }}
      >
        <Box
          component="form"
          sx={{ p: 1.5, display: 'flex', gap: 1, alignItems: 'flex-start' }}
          onSubmit={(event) => {
            event.preventDefault();
            if (address.trim() && !wrong) act(setLink(completed(address)));
          }}
        >
          <TextField
            autoFocus
            size="small"
            label="Address"
            value={address}
            error={wrong}
            helperText={wrong ? 'A link goes to a page, a mail address or a place in the text.' : ' '}
            onChange={(event) => setAddress(event.target.value)}
            sx={{ width: 280 }}
          />
          <Button type="submit" variant="contained" disabled={!address.trim() || wrong}>
            Set
          </Button>
          {href && (
            <Button color="inherit" onClick={() => act(setLink(null))}>
              Remove
            </Button>
          )}
        </Box>
      </Popover>
    </>
  );
}
