import { Button, Divider, Menu, MenuItem, Tooltip } from '@mui/material';
import { useState } from 'react';
import { tints, type Tint } from '@tea-pencil/core';

interface Props {
  disabled: boolean;
  onWhole(): void;
  onHighlight(tint: Tint): void;
}

/** What else can be remarked: a passage highlighted without words, the whole manuscript. */
export function RemarkMenu({ disabled, onWhole, onHighlight }: Props) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const close = () => setAt(null);
  return (
    <>
      <Tooltip title="Highlight a passage without words, or comment on the whole">
        <span>
          <Button
            color="inherit"
            aria-label="Other remarks"
            aria-haspopup="menu"
            disabled={disabled}
            onMouseDown={(event) => event.preventDefault()}
            onClick={(event) => setAt(event.currentTarget)}
            sx={{ py: 0.2, px: 0.5, minWidth: 0, color: 'text.secondary' }}
          >
            ▾
          </Button>
        </span>
      </Tooltip>
      <Menu anchorEl={at} open={!!at} onClose={close} transitionDuration={0}>
        {tints.map((tint) => (
          <MenuItem
            key={tint}
            onClick={() => {
              close();
              onHighlight(tint);
            }}
          >
            <span className={`tint-choice tint-${tint}`} style={{ marginRight: 10 }} />
            Highlight in {tint}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem
          onClick={() => {
            close();
            onWhole();
          }}
        >
          Comment on the whole manuscript
        </MenuItem>
      </Menu>
    </>
  );
}
