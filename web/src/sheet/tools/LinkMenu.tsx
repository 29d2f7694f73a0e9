import { Box, Button, Popover, TextField, Tooltip } from '@mui/material';
import type { Command } from 'prosemirror-state';
import { useRef, useState } from 'react';
import { isSafeAddress, linkAt, setLink } from '@tea-pencil/core';
import { useCommands } from '../../commands/acts';
import { usePopRule } from '../../kit/focus';
import { useOpened } from '../../opened/opened';

/** What someone types as an address, with the scheme that they left out. */
function completed(typed: string): string {
  const address = typed.trim();
  if (isSafeAddress(address)) return address;
  return /^[^\s@]+@[^\s@]+$/.test(address) ? `mailto:${address}` : `https://${address}`;
}

/**
 * Makes a link of the selected words, changes one or takes it away.
 * @param hidden whether it has no button of its own, for want of room
 */
export function LinkMenu({ disabled, hidden }: { disabled: boolean; hidden: boolean }) {
  const { sheet, edit, toText } = useOpened();
  const at = useRef<HTMLSpanElement>(null);
  const [open, setOpen] = useState(false);
  const done = useRef(false);
  const { onExited, ...rule } = usePopRule(() => {
    if (done.current) toText();
    done.current = false;
  });
  const [address, setAddress] = useState('');
  const [href, setHref] = useState<string | null>(null);
  const wrong = /^[a-z][\w+.-]*:/i.test(address.trim()) && !isSafeAddress(address) && !/^[\w.-]+:\d/.test(address);
  const act = (command: Command) => {
    if (done.current) return; // pressed twice
    // At once, by the hand that was held when it was chosen; the keyboard can be elsewhere only when this has gone.
    edit(command);
    done.current = true;
    setOpen(false);
  };
  const begin = () => {
    const { view } = sheet.get();
    const words = view && linkAt(view.state);
    if (!words) return;
    setHref(words.href ?? null);
    setAddress(words.href ?? '');
    setOpen(true);
  };
  useCommands({ link: begin });
  return (
    <>
      <Tooltip title="Make a link of the selected words, change it or take it away">
        <span ref={at}>
          {!hidden && (
            <Button
              color="inherit"
              aria-haspopup="dialog"
              disabled={disabled}
              onClick={begin}
              sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}
            >
              Link
            </Button>
          )}
        </span>
      </Tooltip>
      <Popover
        anchorEl={() => at.current}
        open={open}
        onClose={() => setOpen(false)}
        {...rule}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ transition: { onExited }, paper: { role: 'dialog', 'aria-label': 'Link' } }}
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
