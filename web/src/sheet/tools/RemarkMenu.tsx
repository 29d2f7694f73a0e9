import { Button, Divider, Menu, MenuItem, Tooltip } from '@mui/material';
import { tints } from '@tea-pencil/core';
import { useActs } from '../../commands/acts';
import { commandNamed, highlightCommand } from '../../commands/table';
import { usePop } from '../../kit/focus';

/** What else can be remarked: a passage highlighted without words, the whole manuscript. */
export function RemarkMenu({ disabled }: { disabled: boolean }) {
  const acts = useActs();
  const { open, close, props, transition } = usePop();
  return (
    <>
      <Tooltip title="Highlight a passage without words, or comment on the whole">
        <span>
          <Button
            color="inherit"
            aria-label="Other remarks"
            aria-haspopup="menu"
            disabled={disabled}
            onClick={open}
            sx={{ py: 0.2, px: 0.5, minWidth: 0, color: 'text.secondary' }}
          >
            ▾
          </Button>
        </span>
      </Tooltip>
      <Menu {...props} slotProps={{ transition }}>
        {tints.map((tint) => (
          <MenuItem key={tint} onClick={() => acts.choose(highlightCommand(tint), close)}>
            <span className={`tint-choice tint-${tint}`} style={{ marginRight: 10 }} />
            {commandNamed(highlightCommand(tint)).name}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem onClick={() => acts.choose('whole', close)}>{commandNamed('whole').name}</MenuItem>
      </Menu>
    </>
  );
}
