import { Button, Menu, MenuItem, Tooltip } from '@mui/material';
import type { Command } from 'prosemirror-state';
import { useState } from 'react';

interface Props {
  label: string;
  title: string;
  disabled: boolean;
  commands: [label: string, command: Command][];
  run(command: Command): void;
}

/** A menu of editing commands behind one quiet word. */
export function CommandMenu({ label, title, disabled, commands, run }: Props) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [chosen, setChosen] = useState<Command | null>(null);
  // Only once the menu has gone can the sheet have the focus again.
  const onExited = () => {
    if (chosen) run(chosen);
    setChosen(null);
  };
  return (
    <>
      <Tooltip title={title}>
        <span>
          <Button
            color="inherit"
            aria-haspopup="menu"
            aria-expanded={!!at}
            disabled={disabled}
            onMouseDown={(event) => event.preventDefault()}
            onClick={(event) => setAt(event.currentTarget)}
            sx={{ px: 0.9, py: 0.2, color: 'text.secondary' }}
          >
            {label}
          </Button>
        </span>
      </Tooltip>
      <Menu
        anchorEl={at}
        open={!!at}
        onClose={() => setAt(null)}
        disableRestoreFocus
        transitionDuration={0}
        slotProps={{ transition: { onExited } }}
      >
        {commands.map(([name, command]) => (
          <MenuItem
            key={name}
            onClick={() => {
              setAt(null);
              setChosen(() => command);
            }}
          >
            {name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
